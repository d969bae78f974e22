import { ref } from 'vue';
import { personalKey } from './personal.ts';

/** Drafts that no screen of this version can show: what was typed is not lost, it can be had as a file. Their keys here. */
export const unreadDrafts = ref<string[]>([]);
const MARK = /\.unread\d+$/;

export function lookForUnreadDrafts(): void {
  const drafts = personalKey('draft.');
  unreadDrafts.value = Object.keys(localStorage).filter((key) => key.startsWith(drafts) && MARK.test(key));
}
/** Beside those kept before: an earlier one of the same record stays too. */
export function keepUnread(slot: string, text: string): void {
  let n = 1;
  while (localStorage.getItem(`${slot}.unread${n}`) !== null) n++;
  localStorage.setItem(`${slot}.unread${n}`, text);
  lookForUnreadDrafts();
}
export function forgetUnread(key: string): void {
  localStorage.removeItem(key);
  lookForUnreadDrafts();
}
