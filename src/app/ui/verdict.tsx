import type { Verdict } from '../../core/brief/gauges';

/** Verdicts carry a shape as well as a colour. */
export function VerdictMark({ verdict }: { verdict: Verdict }) {
  const look = { pass: ['●', 'text-ink2'], warn: ['▲', 'text-amber'], fail: ['■', 'text-madder'], unknown: ['–', 'text-ink3'] }[verdict]!;
  return (
    <span aria-hidden className={look[1]}>
      {look[0]}
    </span>
  );
}
