import { NumberField } from './number-field.tsx';

interface Props {
  readonly label?: string;
  readonly 'aria-label'?: string;
  readonly value: number | undefined;
  readonly min: number;
  readonly max: number;
  readonly w?: number;
  readonly onCommit: (value: number) => void;
}

/** A whole number without a unit: a count, or a number of the control. */
export const WholeField = ({ onCommit, ...rest }: Props) => <NumberField {...rest} kind="plain" mark="" digits={0} onCommit={(v) => onCommit(Math.round(v))} />;
