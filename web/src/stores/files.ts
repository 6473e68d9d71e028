/** A name fit for a file: letters, digits and dashes. */
export const fileName = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/[^\w]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .toLowerCase() || 'part';

/** Offers bytes, or a file that was made elsewhere, as a download. */
export function saveFile(name: string, content: Uint8Array | Blob, type: string): void {
  const address = URL.createObjectURL(new Blob([content as Uint8Array<ArrayBuffer> | Blob], { type }));
  const a = document.createElement('a');
  a.href = address;
  a.download = name;
  a.click();
  // The browser has taken hold of it by the next turn.
  setTimeout(() => URL.revokeObjectURL(address), 1000);
}
