/** Hands bytes or text to the browser as a file. */
export function download(name: string, content: string | Uint8Array, type = 'application/octet-stream'): void {
  const url = URL.createObjectURL(new Blob([content as BlobPart], { type }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
