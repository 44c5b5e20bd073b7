/** Lets the person choose a file. */
export function chooseFile(accept: string, take: (file: File) => void) {
  const input = document.createElement("input");
  input.type = "file";
  input.accept = accept;
  input.addEventListener("change", () => {
    const file = input.files?.[0];
    if (file) take(file);
  });
  input.click();
}
