/** The file name at the end of a URL or path, percent signs decoded where they can be. Nothing is opened. */
export function fileNameOfUrl(url: string): string {
  const last =
    url
      .replace(/[?#].*$/, '')
      .split(/[/\\]/)
      .filter(Boolean)
      .at(-1) ?? '';
  try {
    return decodeURIComponent(last);
  } catch {
    return last;
  }
}
