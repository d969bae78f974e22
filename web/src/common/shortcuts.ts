import { onKeyStroke } from '@vueuse/core';

/** Keys of the page, shown on `?`. Screens add theirs while they are open. */
export const SHORTCUTS: [string, string][] = [
  ['1 – 5', 'Bench, Dusk, Night, Morning, Season'],
  ['6', 'Club, or household'],
  ['/', 'Find a screen, rig, project or object'],
  ['?', 'This list'],
  ['n', 'New (where something can be made)'],
  ['s', 'Save'],
  ['Ctrl Z', 'Undo; with Shift: redo'],
  ['w', 'Working'],
  ['j  k', 'Next, previous row'],
  ['[  ]', 'Night before, night after'],
];

const typing = (e: KeyboardEvent) => {
  const t = e.target;
  if (!(t instanceof HTMLElement)) return false;
  // a drop-down without search holds a read-only field: nobody types there
  if (t instanceof HTMLInputElement && t.readOnly) return false;
  return (
    t.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(t.tagName) || t.closest('.ant-select-open') !== null
  );
};

/** Runs while the component is mounted; never while somebody types. `Mod+` stands for Ctrl, or the command key. */
export function useShortcut(keys: string, run: (e: KeyboardEvent) => unknown): void {
  const wanted = keys.split('+');
  const key = wanted.at(-1)!;
  const [mod, shift] = [wanted.includes('Mod'), wanted.includes('Shift')];
  onKeyStroke(
    (e) => e.key === key || (mod && e.key.toLowerCase() === key),
    (e) => {
      if (mod !== (e.ctrlKey || e.metaKey) || e.altKey || (mod && shift !== e.shiftKey) || typing(e)) return;
      e.preventDefault();
      run(e);
    },
  );
}
