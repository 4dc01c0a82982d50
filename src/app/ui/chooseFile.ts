/** Asks for a file; nothing happens where none is chosen. @param accept endings with commas between */
export function chooseFile(accept: string, then: (file: File) => void): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.accept = accept;
  input.onchange = () => {
    const file = input.files?.[0];
    if (file) then(file);
  };
  input.click();
}
