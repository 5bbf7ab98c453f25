import { z } from 'zod';
import { overlapOf } from '../../time';
import { find, toLayer } from '../draft';
import { kind } from '../kind';
import { refuse } from '../refusal';
import { eventKey, onEvent } from '../scope';

/** Puts an event on another picture layer, at the same place on the record. `V` and the next number makes a new one on top. */
export const layer = kind({
  schema: z.object({ kind: z.literal('layer'), event: eventKey, layer: z.string().min(1).max(50) }),
  scope: (d) => onEvent(d.event),
  apply(draft, { event: key, layer: name }) {
    const found = find(draft, key);
    if (!found) return refuse('no-such-event');
    const pictures = draft.tracks.filter((t) => t.track.kind === 'picture');
    let at = draft.tracks.findIndex((t) => t.track.kind === 'picture' && t.track.name === name);
    if (at < 0) {
      const next = `V${pictures.length + 1}`;
      if (name !== next) return refuse('no-such-layer', { layer: next });
      draft.tracks.push({ track: { name, kind: 'picture', events: [] }, events: [] });
      at = draft.tracks.length - 1;
    }
    const target = draft.tracks[at];
    if (target === found.track) return null;
    if (target?.events.some((e) => overlapOf(e.record, found.event.record))) return refuse('overlap', { layer: `V${pictures.length + 1}` });
    toLayer(draft, key, at);
    return null;
  },
  says: (d) => `put on ${d.layer}`,
});
