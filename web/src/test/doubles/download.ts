/** What was offered as a file, instead of offering it. */
export const saved: { name: string; text: string }[] = [];
export const download = (name: string, text: string): void => void saved.push({ name, text });
