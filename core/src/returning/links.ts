import type { EditList, ListEvent } from '../edit';
import { fileUrl, pathIn } from './addresses';
import type { ReturnClip } from './plan';

/**
 * A list of a return whose events say where their clips are; `folder` null: beside the list. An event that has no clip keeps what its list
 * said. Where the offline clip lay says nothing of a clip that was returned, though it may bear the same name.
 */
export function withLinks(list: EditList, clips: readonly ReturnClip[], folder: string | null): EditList {
  const clipOf = new Map(clips.flatMap((clip) => clip.events.map((key) => [key, clip] as const)));
  const linked = (event: ListEvent): ListEvent => {
    const clip = clipOf.get(event.key);
    if (!clip) return event;
    return { ...event, file: null, mediaPath: folder === null ? '' : fileUrl(pathIn(folder, clip.within, clip.fileName)) };
  };
  return { ...list, tracks: list.tracks.map((track) => ({ ...track, events: track.events.map(linked) })) };
}
