import { ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { ALTER, DRAW, type Tool, toolInfo } from './tools';

/** What can be done with what is chosen, or to the whole drawing. */
export interface Act {
  readonly words: string;
  readonly hint: string;
  readonly run: () => void;
  readonly off?: string;
}

const item =
  'flex cursor-pointer items-baseline justify-between gap-6 px-3 py-1 outline-none data-[highlighted]:bg-tealwash data-[disabled]:cursor-default data-[disabled]:text-ink3';
const sheet = 'z-50 max-h-[70vh] overflow-y-auto rounded-sm border border-line2 bg-card py-1 shadow-lg';

function Menu({ label, pressed, children }: { label: string; pressed: boolean; children: React.ReactNode }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        className={`inline-flex items-center gap-0.5 rounded-xs px-2 py-0.5 ${pressed ? 'bg-teal text-panel' : 'hover:text-teal'}`}
      >
        {label}
        <ChevronDown size={11} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className={sheet} onCloseAutoFocus={(e) => e.preventDefault()}>
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** The board's tools as words, in three menus: draw, alter, more. */
export function BoardMenus({
  tool,
  onTool,
  acts,
  more,
}: {
  tool: Tool;
  onTool: (t: Tool) => void;
  acts: readonly Act[];
  more: readonly Act[];
}) {
  const drawing = DRAW.flat().some((t) => t.tool === tool);
  const altering = ALTER.some((t) => t.tool === tool);
  const choose = (t: { tool: Tool; words: string; hint: string }) => (
    <DropdownMenu.Item key={t.tool} className={item} onSelect={() => onTool(t.tool)}>
      {t.words} <span className="text-[11.5px] text-ink3">{t.hint}</span>
    </DropdownMenu.Item>
  );
  const act = (a: Act) => (
    <DropdownMenu.Item key={a.words + a.hint} className={item} disabled={a.off !== undefined} onSelect={a.run}>
      {a.words} <span className="text-[11.5px] text-ink3">{a.off ?? a.hint}</span>
    </DropdownMenu.Item>
  );
  return (
    <div role="toolbar" aria-label="Drawing tools" className="flex shrink-0 gap-0.5 whitespace-nowrap">
      <button
        type="button"
        aria-pressed={tool === 'select'}
        title={toolInfo('select').hint}
        className={`rounded-xs px-2 py-0.5 ${tool === 'select' ? 'bg-teal text-panel' : 'hover:text-teal'}`}
        onClick={() => onTool('select')}
      >
        Move
      </button>
      <Menu label={drawing ? toolInfo(tool).words : 'Draw'} pressed={drawing}>
        {DRAW.map((group, i) => (
          <div key={group[0]!.tool} className={i > 0 ? 'mt-1 border-t border-line pt-1' : ''}>
            {group.map(choose)}
          </div>
        ))}
      </Menu>
      <Menu label={altering ? toolInfo(tool).words : 'Alter'} pressed={altering}>
        {ALTER.map(choose)}
        <div className="mt-1 border-t border-line pt-1">{acts.map(act)}</div>
      </Menu>
      <Menu label="More" pressed={false}>
        {more.map(act)}
      </Menu>
    </div>
  );
}
