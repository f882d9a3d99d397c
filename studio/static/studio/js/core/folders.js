// The pictures of a folder in the order of their names, numbers compared as numbers.
export const inOrder = (files) =>
  [...files]
    .filter((file) => !file.name.startsWith(".") && /^image\/|^$/.test(file.type))
    .sort((a, b) => a.name.localeCompare(b.name, undefined, { numeric: true }));

// The files of a drop, including those in folders, by name.
export async function filesOf(transfer) {
  const entries = [...transfer.items].map((item) => item.webkitGetAsEntry?.());
  if (!entries.some((entry) => entry?.isDirectory)) return [...transfer.files];
  const out = [];
  const walk = async (entry) => {
    if (entry?.isFile) out.push(await new Promise((done, failed) => entry.file(done, failed)));
    if (!entry?.isDirectory) return;
    const reader = entry.createReader();
    // a folder is listed in parts
    for (let part = null; part === null || part.length; ) {
      part = await new Promise((done, failed) => reader.readEntries(done, failed));
      for (const inner of part) await walk(inner);
    }
  };
  for (const entry of entries) await walk(entry);
  return inOrder(out);
}
