import { onBeforeUnmount, onMounted } from 'vue';

/** Keys of the page, shown on `?`. Screens add theirs while they are open. */
export const SHORTCUTS: [string, string][] = [
  ['1 – 5', 'Bench, Dusk, Night, Morning, Season'],
  ['6', 'Club, or household'],
  ['/', 'Find a screen, rig, project or object'],
  ['?', 'This list'],
  ['n', 'New (where something can be made)'],
  ['s', 'Save'],
  ['w', 'Working'],
  ['j  k', 'Next, previous row'],
  ['[  ]', 'Night before, night after'],
];

const typing = (e: KeyboardEvent) => {
  const t = e.target as HTMLElement;
  // a drop-down without search holds a read-only field: nobody types there
  if (t instanceof HTMLInputElement && t.readOnly) return false;
  return (
    t.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(t.tagName) || t.closest('.ant-select-open') !== null
  );
};

/** Runs while the component is mounted; never while somebody types. */
export function useShortcut(key: string, run: (e: KeyboardEvent) => void): void {
  const listen = (e: KeyboardEvent) => {
    if (e.key !== key || e.ctrlKey || e.metaKey || e.altKey || typing(e)) return;
    e.preventDefault();
    run(e);
  };
  onMounted(() => window.addEventListener('keydown', listen));
  onBeforeUnmount(() => window.removeEventListener('keydown', listen));
}
