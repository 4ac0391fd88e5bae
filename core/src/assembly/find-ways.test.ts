import { beforeAll, describe, expect, it } from '@jest/globals';
import { type ComponentRecord } from '#core/records';
import { checkFit } from '#core/standards';
import { findWays } from './index.ts';
import { components, openShop } from './sample-shop.ts';

beforeAll(openShop);

describe('ways', () => {
  const all = () => Object.values(components);
  it('go through what fits on both sides, the shortest first', () => {
    const { ways } = findWays({ standard: 'cylindrical', size: 40 }, components.bar16, all());
    expect(ways.map((w) => w.through.map((t) => t.component.id))).toEqual([['s40', 's25']]);
    expect(findWays({ standard: 'cylindrical', size: 16 }, components.bar16, all()).ways[0]).toMatchObject({ through: [], last: null, long: 0 });
  });
  it('where there is none say which piece would make one, from data where data makes it', () => {
    const { ways, missing } = findWays({ standard: 'cylindrical', size: 32 }, components.d10, all());
    expect(ways).toEqual([]);
    expect(missing[0]).toMatchObject({ through: [], needs: 'a sleeve 32 to 10', spec: { kind: 'sleeve', values: { DCON: 32, DCONWS: 10 } } });
    expect(findWays({ standard: 'PSC', size: 63 }, components.bar16, all()).missing).toEqual([
      { through: [], needs: 'a piece with a PSC 63 mount and a cylindrical 16 seat' },
    ]);
  });
  it('of thousands of pieces that fit each other end, the shortest first all the same', () => {
    const ladder = [components.s40, components.s32, components.s25, components.s16];
    const many = ladder.flatMap((c) => Array.from({ length: 1500 }, (_, i) => ({ ...c, id: `${c.id} ${i}` })));
    const { ways } = findWays({ standard: 'cylindrical', size: 40 }, components.bar16, many);
    expect([ways.length, new Set(ways.map((w) => w.through.length))]).toEqual([40, new Set([2])]);
    expect(findWays({ standard: 'cylindrical', size: 40 }, components.d10, many).missing[0]).toMatchObject({ through: [], needs: 'a sleeve 40 to 10' });
  });
  it('are the same as those of trying everything, and each of them joins', () => {
    const between = all().filter((c) => c.seats.length > 0);
    for (const size of [16, 25, 32, 40])
      for (const to of [components.bar16, components.d8, components.d10]) {
        const tried: string[] = [];
        const fits = (c: ComponentRecord, seat: { standard: 'cylindrical'; size: number } | ComponentRecord['seats'][number]['connection']) =>
          c.mount !== null && checkFit(c.mount.connection, seat).ok;
        const grow = (chainSoFar: ComponentRecord[]) => {
          const seat = chainSoFar.length === 0 ? { standard: 'cylindrical' as const, size } : chainSoFar[chainSoFar.length - 1].seats[0].connection;
          if (fits(to, seat)) tried.push(chainSoFar.map((c) => c.id).join());
          if (chainSoFar.length < 3) for (const c of between) if (!chainSoFar.includes(c) && fits(c, seat)) grow([...chainSoFar, c]);
        };
        grow([]);
        const found = findWays({ standard: 'cylindrical', size }, to, all()).ways.map((w) => w.through.map((t) => t.component.id).join());
        expect([size, to.id, [...found].sort()]).toEqual([size, to.id, [...tried].sort()]);
      }
  });
});
