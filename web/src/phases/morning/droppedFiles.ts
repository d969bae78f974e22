/** Files of a drop, folders walked through; a browser without folders gives its plain files. */
export async function filesOfDrop(data: DataTransfer | null): Promise<File[]> {
  if (!data) return [];
  const entries = [...data.items].flatMap((i) => (i.kind === 'file' ? (i.webkitGetAsEntry?.() ?? []) : []));
  if (entries.length === 0) return [...data.files];
  const found: File[] = [];
  for (const e of entries) await walk(e, found);
  return found;
}

/** Deeper than this nobody keeps a night. */
const DEEPEST = 8;

async function walk(entry: FileSystemEntry, found: File[], depth = 0): Promise<void> {
  if (entry.isFile) {
    found.push(await new Promise<File>((done, fail) => (entry as FileSystemFileEntry).file(done, fail)));
    return;
  }
  if (depth >= DEEPEST) return;
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  // a reader gives its entries in portions, and an empty one at the end
  for (;;) {
    const portion = await new Promise<FileSystemEntry[]>((done, fail) => reader.readEntries(done, fail));
    if (portion.length === 0) return;
    for (const e of portion) await walk(e, found, depth + 1);
  }
}
