import { useLayoutEffect, useRef, useState } from 'react';
import type { Scope } from '../../core/dimensions/expression';
import { type DrawOptions, PLACES, type Place, placeOfSize } from '../../core/profile/shapes';
import { Choice } from './Choice';
import { FONT_WORDS } from './fonts';
import { readPlace, type TypedPlace } from './place';
import { isDraw, type Tool } from './tools';

/** The strip under the drawing while something is drawn: the next place as text, and what the tool needs to know. */
export function Prompt({
  tool,
  scope,
  pending,
  options,
  setOptions,
  corner,
  setCorner,
  onPlace,
  onFinish,
  onEnd,
  onRefuse,
  kept,
  onRefuseKept,
}: {
  tool: Tool;
  scope: Scope;
  pending: readonly Place[];
  options: DrawOptions;
  setOptions: (o: DrawOptions) => void;
  corner: string;
  setCorner: (v: string) => void;
  onPlace: (p: TypedPlace) => void;
  onFinish: () => void;
  onEnd: () => void;
  onRefuse: (words: string) => void;
  /** Relations that snapping put in with the last curve. */
  kept: readonly string[];
  onRefuseKept: () => void;
}) {
  const [text, setText] = useState('');
  const input = useRef<HTMLInputElement>(null);
  // Before anything can be typed, so that what is typed at once is not taken back.
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new tool puts the typing in place, so that the keyboard alone can draw
  useLayoutEffect(() => {
    setText('');
    input.current?.focus({ preventScroll: true });
  }, [tool]);
  const need = isDraw(tool) ? PLACES[tool] : undefined;
  const ask = need ? need.ask[Math.min(pending.length, need.ask.length - 1)] : '';
  const last = pending[pending.length - 1]?.at;
  return (
    <div
      className="absolute inset-x-0 bottom-0 flex items-center gap-2 border-t border-line bg-panel/95 px-2 py-1 text-[12px]"
      role="group"
      aria-label="What is drawn next"
    >
      {need && (
        <>
          <label className="flex items-center gap-1.5">
            <span className="text-ink2 first-letter:uppercase">{ask}</span>
            <input
              ref={input}
              aria-label="Next place"
              className="field w-40 font-mono"
              placeholder="25, 0   @5, 3   @10 < 45"
              title="across, up from the origin; with @ from the last place; length < angle"
              value={text}
              spellCheck={false}
              autoComplete="off"
              onChange={(e) => setText(e.target.value)}
              onKeyDown={(e) => {
                if (e.key === 'Escape') {
                  e.stopPropagation();
                  onEnd();
                } else if (e.key === 'Enter') {
                  if (text.trim() === '') {
                    onFinish();
                    return;
                  }
                  const r = readPlace(text, scope, last, (size) =>
                    isDraw(tool)
                      ? placeOfSize(
                          tool,
                          pending.map((p) => p.at),
                          size,
                        )
                      : undefined,
                  );
                  if (!r.ok) {
                    onRefuse(r.error);
                    return;
                  }
                  setText('');
                  onPlace(r.value);
                }
              }}
            />
          </label>
          {need.more && <span className="text-ink3">Enter on nothing ends it</span>}
        </>
      )}
      {tool === 'polygon' && (
        <label className="flex items-center gap-1">
          Sides
          <input
            aria-label="Sides"
            type="number"
            min={3}
            max={60}
            className="field w-14 font-mono"
            value={options.sides}
            onChange={(e) => setOptions({ ...options, sides: Number(e.target.value) })}
          />
        </label>
      )}
      {tool === 'control' && (
        <label className="flex items-center gap-1">
          Degree
          <input
            aria-label="Degree of the spline"
            type="number"
            min={1}
            max={7}
            className="field w-14 font-mono"
            value={options.degree}
            onChange={(e) => setOptions({ ...options, degree: Number(e.target.value) })}
          />
        </label>
      )}
      {tool === 'text' && (
        <>
          <input
            aria-label="Text to outline"
            className="field w-28"
            value={options.text}
            maxLength={60}
            onChange={(e) => setOptions({ ...options, text: e.target.value })}
          />
          <label className="flex items-center gap-1">
            high
            <input
              aria-label="Height of its capitals"
              className="field w-16 font-mono"
              value={options.textHeight}
              onChange={(e) => setOptions({ ...options, textHeight: e.target.value })}
            />
          </label>
          <Choice label="Font" value={options.font ?? 'sans'} options={FONT_WORDS} onChange={(font) => setOptions({ ...options, font })} />
        </>
      )}
      {(tool === 'round' || tool === 'cut') && (
        <label className="flex items-center gap-1.5">
          {tool === 'round' ? 'Radius' : 'Along each line'}
          <input
            aria-label={tool === 'round' ? 'Radius of the corner' : 'Size of the cut'}
            className="field w-24 font-mono"
            value={corner}
            onChange={(e) => setCorner(e.target.value)}
          />
          <span className="text-ink3">then click the corner, or Tab to it and press Enter</span>
        </label>
      )}
      {need && (
        <label className="flex items-center gap-1">
          <input
            type="checkbox"
            checked={options.construction}
            onChange={(e) => setOptions({ ...options, construction: e.target.checked })}
          />
          construction
        </label>
      )}
      {kept.length > 0 && (
        <span className="flex min-w-0 items-center gap-1 bg-tealwash px-1.5 text-ink2" title={kept.join('; ')}>
          <span className="truncate">kept: {kept.join('; ')}</span>
          <button type="button" className="link" onClick={onRefuseKept}>
            Refuse
          </button>
        </span>
      )}
      <button type="button" className="btn ml-auto py-0!" onClick={onEnd}>
        Done
      </button>
    </div>
  );
}
