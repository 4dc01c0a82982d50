import { useHotkeys } from 'react-hotkeys-hook';
import { useNavigate } from 'react-router';
import { ACTIONS, type Where } from './actions';

/** Listens to the keys of the actions that work where it is used. */
export function useKeys(where: Where): void {
  const go = useNavigate();
  const mine = ACTIONS.filter((a) => a.key?.where === where);
  const listen = (byCharacter: boolean): [string, (e: KeyboardEvent, pressed: { readonly hotkey: string }) => void] => {
    const keys = mine.filter((a) => (a.key!.byCharacter === true) === byCharacter);
    return [
      keys.map((a) => a.key!.keys).join(', '),
      (e, { hotkey }) => {
        const action = keys.find((a) => a.key!.keys.split(',').some((k) => k.trim() === hotkey.trim()));
        if (!action) return;
        // Escape also closes what is open above the page.
        if (hotkey !== 'escape') e.preventDefault();
        action.run(go);
      },
    ];
  };
  useHotkeys(...listen(false), [where]);
  // A character may want Shift on one keyboard and none on another.
  useHotkeys(...listen(true), { useKey: true, ignoreModifiers: true, ignoreEventWhen: (e) => e.ctrlKey || e.metaKey || e.altKey }, [where]);
}
