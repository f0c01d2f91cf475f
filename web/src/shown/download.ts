/** Hand a text or bytes to the browser as a file. */
export function download(name: string, type: string, content: string | ArrayBuffer): void {
  const address = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  URL.revokeObjectURL(address);
}
