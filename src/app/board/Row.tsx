/** A label and its value in the board's panel. */
export function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className="flex items-baseline justify-between gap-2">
      <span className="text-ink2">{label}</span>
      {children}
    </div>
  );
}
