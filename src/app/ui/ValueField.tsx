import { useEffect, useId, useRef, useState } from 'react';
import type { Result } from '../../core/result';

interface Props {
  readonly label: string;
  readonly value: string;
  readonly onCommit: (text: string) => void;
  /** Reads a text; the error is shown while typing and refuses the value. */
  readonly check: (text: string) => Result<unknown>;
  readonly className?: string;
  readonly placeholder?: string;
  /** Narrowest width in characters. */
  readonly minChars?: number;
  readonly invalid?: boolean;
}

/** A typed value: Enter or leaving accepts it, Esc brings the old one back, a wrong one says why and is not taken. */
export function ValueField({ label, value, onCommit, check, className = '', placeholder, minChars = 4, invalid }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const ref = useRef<HTMLInputElement>(null);
  const errorId = useId();
  // biome-ignore lint/correctness/useExhaustiveDependencies: a value changed from outside ends the typing
  useEffect(() => setDraft(null), [value]);
  const text = draft ?? value;
  const checked = draft === null ? null : check(text);
  const error = checked && !checked.ok ? String(checked.error) : null;

  const accept = (): boolean => {
    if (draft === null) return true;
    if (draft.trim() === value.trim()) {
      setDraft(null);
      return true;
    }
    if (!check(draft).ok) return false;
    onCommit(draft.trim());
    setDraft(null);
    return true;
  };

  return (
    <span className="relative inline-block max-w-full">
      <input
        ref={ref}
        aria-label={label}
        aria-invalid={error !== null || invalid === true}
        aria-describedby={error ? errorId : undefined}
        className={`max-w-full font-mono border-b border-dashed border-line2 bg-transparent hover:border-teal px-0.5 text-ink focus:border-teal focus:bg-tealwash ${error || invalid ? 'border-madder text-madder' : ''} ${className}`}
        style={{ width: `${Math.max(minChars, text.length) + 1.2}ch` }}
        value={text}
        placeholder={placeholder}
        spellCheck={false}
        autoComplete="off"
        onChange={(e) => setDraft(e.target.value)}
        onBlur={() => {
          if (!accept()) setDraft(null);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            if (accept()) ref.current?.select();
          } else if (e.key === 'Escape') {
            setDraft(null);
            e.stopPropagation();
            ref.current?.blur();
          }
        }}
      />
      {error && (
        <span
          id={errorId}
          role="alert"
          className="absolute left-0 top-full z-30 mt-0.5 w-max max-w-64 rounded-xs bg-ink px-2 py-1 text-[12px] text-panel"
        >
          {error}
        </span>
      )}
    </span>
  );
}
