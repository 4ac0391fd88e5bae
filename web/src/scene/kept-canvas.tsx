import { Canvas, type RootState, useFrame, useThree } from '@react-three/fiber';
import { type ReactNode, useLayoutEffect, useRef, useState } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { NoToneMapping } from 'three';
import { FatLine } from './fat-line.tsx';
import { KeptPrograms } from './kept-programs.tsx';

/** What draws a stage, with its own tree: it goes from one stage to the next, so that each finds its shaders compiled. */
interface Drawer {
  readonly host: HTMLDivElement;
  readonly root: Root;
  state: RootState | undefined;
  isBroken: boolean;
  fail: (error: unknown) => void;
}

// One that no stage has at present.
let free: Drawer | undefined;

// Once there was one its shaders are there.
let isWarm = false;

function newDrawer(): Drawer {
  isWarm = true;
  const host = document.createElement('div');
  host.className = 'stage-drawer';
  const drawer: Drawer = {
    host,
    root: createRoot(host, {
      onUncaughtError: (error) => {
        drawer.isBroken = true;
        drawer.fail(error);
      },
    }),
    state: undefined,
    isBroken: false,
    fail: () => undefined,
  };
  return drawer;
}

function take(): Drawer {
  const known = free;
  free = undefined;
  // A graphics driver that was started anew forgets what was drawn with it.
  if (known && !known.isBroken && !known.state?.gl.getContext().isContextLost()) return known;
  known?.root.unmount();
  return newDrawer();
}

function giveBack(drawer: Drawer): void {
  drawer.host.remove();
  drawer.fail = () => undefined;
  if (drawer.isBroken || free) return void setTimeout(() => drawer.root.unmount());
  free = drawer;
  show(drawer, null);
}

function show(drawer: Drawer, children: ReactNode): void {
  drawer.root.render(
    <Canvas
      frameloop="demand"
      dpr={[1, 2]}
      gl={{ antialias: true, alpha: true, toneMapping: NoToneMapping }}
      resize={{ debounce: 30 }}
      onCreated={(state) => {
        drawer.state = state;
      }}
    >
      <KeptPrograms />
      {children}
    </Canvas>,
  );
}

interface Props {
  readonly children: ReactNode;
  /** Given what asks for the state of what draws, once it does. */
  readonly onReady: (get: () => RootState) => void;
}

/** The canvas of a stage, as large as what it stands in. */
export function KeptCanvas({ children, onReady }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const taken = useRef<{ drawer: Drawer; key: number } | null>(null);
  const [fault, setFault] = useState<{ readonly error: unknown } | undefined>();
  if (fault) throw fault.error;
  useLayoutEffect(() => {
    const drawer = take();
    drawer.fail = (error) => setFault({ error });
    // What the last stage showed is not seen in this one.
    drawer.host.style.visibility = 'hidden';
    place.current?.append(drawer.host);
    taken.current = { drawer, key: nextKey++ };
    return () => {
      taken.current = null;
      giveBack(drawer);
    };
  }, []);
  useLayoutEffect(() => {
    if (!taken.current) return;
    const { drawer, key } = taken.current;
    show(
      drawer,
      <Fitting key={key} host={drawer.host} onReady={onReady}>
        {children}
      </Fitting>,
    );
  });
  return <div ref={place} className="stage-drawn" />;
}

let nextKey = 1;

// Shows nothing until the canvas has the size of the stage that it came to: what is fitted to it would be fitted to the last one.
function Fitting({ host, onReady, children }: Props & { readonly host: HTMLElement }) {
  const size = useThree((s) => s.size);
  const get = useThree((s) => s.get);
  const isFitting = useRef(false);
  if (!isFitting.current) {
    const box = host.getBoundingClientRect();
    isFitting.current = Math.abs(box.width - size.width) < 1 && Math.abs(box.height - size.height) < 1;
  }
  useLayoutEffect(() => onReady(get), [onReady, get]);
  return isFitting.current ? (
    <>
      <Unveil host={host} />
      {children}
    </>
  ) : null;
}

// The canvas is seen from its first picture on.
function Unveil({ host }: { readonly host: HTMLElement }) {
  const isSeen = useRef(false);
  useFrame(() => {
    if (isSeen.current) return;
    isSeen.current = true;
    requestAnimationFrame(() => host.style.removeProperty('visibility'));
  });
  return null;
}

/** Compiles what stages draw with, before there is anything to draw: while a file is read. */
export function warmStage(): void {
  if (isWarm) return;
  const drawer = newDrawer();
  const aside = document.createElement('div');
  aside.className = 'stage-aside';
  aside.setAttribute('aria-hidden', 'true');
  aside.append(drawer.host);
  document.body.append(aside);
  const end = () => {
    aside.remove();
    giveBack(drawer);
  };
  drawer.fail = end;
  show(drawer, <Samples onDrawn={end} />);
}

function Samples({ onDrawn }: { readonly onDrawn: () => void }) {
  const frames = useRef(0);
  const invalidate = useThree((s) => s.invalidate);
  useFrame(() => {
    if (++frames.current === 2) setTimeout(onDrawn);
    else invalidate();
  });
  return (
    <>
      <hemisphereLight args={['#ffffff', '#b9b2a4', 1.5]} />
      <directionalLight position={[0.5, 0.8, 1]} intensity={2.2} />
      <mesh>
        <boxGeometry />
        <meshStandardMaterial />
      </mesh>
      <lineSegments>
        <boxGeometry />
        <lineBasicMaterial transparent opacity={0.5} />
      </lineSegments>
      <FatLine
        points={[
          [-1, 0, 0],
          [1, 0, 0],
        ]}
        colour="#1c9a8c"
        width={2}
        renderOrder={3}
      />
    </>
  );
}
