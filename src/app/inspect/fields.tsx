import type { Result } from '../../core/result';
import { degrees } from '../../core/units/units';
import { ValueField } from '../ui/ValueField';

/** Ways across the body, in words. */
export const ACROSS = [
  ['z', 'the height'],
  ['y', 'front to back'],
  ['x', 'left to right'],
] as const;

/** Hands a value on that could be read. */
const commit = (r: Result<number, string>, then: (v: number) => void): void => {
  if (r.ok) then(r.value);
};

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex items-center justify-between gap-2 text-[12px]">
      <span className="text-ink2">{label}</span>
      {children}
    </div>
  );
}

/** A typed value with its name: what can be read is handed on. */
export function ValueRow({
  label,
  name = label,
  value,
  check,
  onTake,
}: {
  label: string;
  /** Its accessible name, where that says more. */
  name?: string;
  value: string;
  check: (t: string) => Result<number, string>;
  onTake: (v: number) => void;
}) {
  return (
    <Row label={label}>
      <ValueField label={name} value={value} check={check} onCommit={(t) => commit(check(t), onTake)} />
    </Row>
  );
}

/** An angle in rad as its field shows it, in degrees. */
export const angleText = (rad: number): string => `${Number(degrees(rad).toFixed(2))}°`;

export function Slide({
  label,
  value,
  from,
  to,
  step,
  onChange,
}: {
  label: string;
  value: number;
  from: number;
  to: number;
  step: number;
  onChange: (v: number) => void;
}) {
  return (
    <label className="flex items-center justify-between gap-2 text-[12px]">
      <span className="text-ink2">{label}</span>
      <input
        type="range"
        className="w-32 accent-teal"
        min={from}
        max={to}
        step={step}
        value={value}
        onChange={(e) => onChange(Number(e.target.value))}
      />
    </label>
  );
}

export function Pick<T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (v: T) => void;
}) {
  return (
    <label className="flex items-center justify-between gap-2 text-[12px]">
      <span className="text-ink2">{label}</span>
      <select className="field py-0.5!" value={value} onChange={(e) => onChange(e.target.value as T)}>
        {options.map(([v, words]) => (
          <option key={v} value={v}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}
