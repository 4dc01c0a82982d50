import { Dialog } from 'radix-ui';
import { setBench, useBench } from '../state/bench';
import { ACTIONS, type Where } from './actions';

const PLACES: readonly (readonly [Where, string])[] = [
  ['project', 'On every page'],
  ['sheet', 'On the sheet'],
  ['stage', 'On the stage'],
];

/** All keys, by where they work. */
export function Keys() {
  const open = useBench((s) => s.listingKeys);
  return (
    <Dialog.Root open={open} onOpenChange={(listingKeys) => setBench({ listingKeys })}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-24 z-50 w-[420px] -translate-x-1/2 rounded-sm border border-line2 bg-card px-5 py-4 shadow-xl"
        >
          <Dialog.Title className="mb-2 text-[15px] font-semibold">Keys</Dialog.Title>
          {PLACES.map(([where, words]) => (
            <section key={where} aria-label={words} className="mb-3">
              <h3 className="heading">{words}</h3>
              <dl>
                {ACTIONS.filter((a) => a.key?.where === where).map((a) => (
                  <div key={a.id} className="flex justify-between border-b border-line py-1">
                    <dt>{a.label}</dt>
                    <dd>
                      <kbd className="rounded-xs border border-line2 px-1.5 font-mono text-[12px]">{a.key!.shown}</kbd>
                    </dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
          <Dialog.Close className="btn">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
