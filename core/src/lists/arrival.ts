import { type EditList, type ListEvent, type Notice, pictureTracks, type Track } from '../edit';
import { lengthOf } from '../time';
import type { Sentence } from '../words';
import { allTold, type NoticeLog, noticeLog, tell } from './notices';
import { inPlainText } from './plain';
import { LIST_WORDS } from './wording';

/**
 * A list as it arrives, with what is said of every list whatever its format: that it is empty, that events overlap on
 * their track, that a text holds what is no text. A list of which none of that is so comes back as it is.
 */
export function arrived(given: EditList): EditList {
  const { list: plain, events, changed } = inPlainText(given);
  const log = noticeLog();
  const list = withFittingTransitions(plain, log);
  const say = (severity: Notice['severity'], code: string, event: ListEvent | null, said: Sentence) =>
    tell(log, { severity, code, place: event?.line ? { line: event.line } : null, event: event?.key ?? null, ...said });
  const pictures = pictureTracks(list).filter((t) => t.events.length > 0);
  const others = list.tracks.length - pictures.length;
  if (list.tracks.every((t) => t.events.length === 0)) {
    if (!list.notices.some((n) => n.code === 'unreadable')) say('lost', 'empty', null, LIST_WORDS.empty());
  } else if (pictures.length === 0) say('lost', 'no-picture', null, LIST_WORDS.noPicture({ tracks: others }));
  for (const track of pictures) {
    // Of all that stand before it the one that lasts longest: it may be further back than the last.
    let running = track.events[0];
    for (const event of track.events.slice(1)) {
      if (running && event.record.in < running.record.out)
        say(
          'changed',
          'overlap',
          event,
          LIST_WORDS.overlap({
            event: nameOf(event),
            frames: running.record.out - event.record.in,
            running: nameOf(running),
            track: track.name,
          }),
        );
      if (!running || event.record.out > running.record.out) running = event;
    }
  }
  if (changed)
    tell(log, {
      severity: 'changed',
      code: 'no-text',
      place: null,
      event: events[0] ?? null,
      ...LIST_WORDS.noTextLeftOut({ events: events.length }),
    });
  return log.told.length === 0 ? list : { ...list, notices: [...list.notices, ...allTold(log)] };
}

/** A transition lasts no longer than what it joins: what is longer is cut to that, with a word. */
function withFittingTransitions(list: EditList, log: NoticeLog): EditList {
  const fitting = (event: ListEvent, before: ListEvent | undefined): ListEvent => {
    const join = event.transitionIn;
    if (!join) return event;
    const own = lengthOf(event.record);
    const ahead = Math.min(join.before, before && join.from === 'previous' ? lengthOf(before.record) : own);
    const after = Math.min(join.duration - join.before, own);
    if (ahead === join.before && after === join.duration - join.before) return event;
    const duration = ahead + after;
    tell(log, {
      severity: 'changed',
      code: 'transition-too-long',
      place: event.line === null ? null : { line: event.line },
      event: event.key,
      ...LIST_WORDS.transitionTooLong({ event: nameOf(event), stated: join.duration, fitting: duration }),
    });
    return { ...event, transitionIn: duration > 0 ? { ...join, before: ahead, duration } : null };
  };
  const tracks = list.tracks.map((track): Track => {
    const events = track.events.map((event, i) => fitting(event, track.events[i - 1]));
    return events.some((e, i) => e !== track.events[i]) ? { ...track, events } : track;
  });
  return tracks.some((t, i) => t !== list.tracks[i]) ? { ...list, tracks } : list;
}

const nameOf = (event: ListEvent): string => (event.number ? `event ${event.number}` : `"${event.clipName}"`).replace(/^e/, 'E');
