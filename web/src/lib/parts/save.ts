/** Hands a file to the person, as a download. */
export function save(blob: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** A flow's name as the name of a file: letters and digits of any script. */
export const fileName = (name: string) => name.replaceAll(/[^\p{L}\p{N}]+/gu, '-');
