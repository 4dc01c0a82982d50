/** One of a few, by its words. */
export function Choice<V extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: V;
  options: Readonly<Record<V, string>>;
  onChange: (value: V) => void;
}) {
  return (
    <select aria-label={label} className="field w-36" value={value} onChange={(e) => onChange(e.target.value as V)}>
      {Object.entries<string>(options).map(([id, words]) => (
        <option key={id} value={id}>
          {words}
        </option>
      ))}
    </select>
  );
}
