import { ref } from 'vue';
import { personalKey } from './personal.ts';

/** Drafts that no screen of this version can show: what was typed is not lost, it can be had as a file. Their keys here. */
export const unreadDrafts = ref<string[]>([]);
const MARK = '.unread';

export function lookForUnreadDrafts(): void {
  const drafts = personalKey('draft.');
  unreadDrafts.value = Object.keys(localStorage).filter((key) => key.startsWith(drafts) && key.endsWith(MARK));
}
export function keepUnread(slot: string, text: string): void {
  localStorage.setItem(slot + MARK, text);
  lookForUnreadDrafts();
}
export function forgetUnread(key: string): void {
  localStorage.removeItem(key);
  lookForUnreadDrafts();
}
