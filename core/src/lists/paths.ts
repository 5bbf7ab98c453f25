import type { ListEvent } from '../edit';

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

/** An address as it is kept beside a file name: empty where it says no more than that. */
export const beyondName = (address: string, fileName: string): string =>
  address === fileName || address === encodeURI(fileName) ? '' : address;

/** Where the offline clip lay, as far as it still bears the event's file name; else that name alone. */
export const pathOf = ({ fileName, mediaPath }: ListEvent): string =>
  mediaPath !== '' && fileNameOfUrl(mediaPath) === fileName ? mediaPath : fileName;
