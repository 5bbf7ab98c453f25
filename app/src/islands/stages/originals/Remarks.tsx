import { useState } from 'react';
import type { OriginalView } from '../../../contract';
import { useNotes } from '../../data/noting';
import { useRemark } from '../../data/queries';
import { emptiedOf } from '../../data/sent';

/** What people write about a clip; it follows the clip, whatever volume it is found on. */
export function Remarks({ job, clip }: { job: string; clip: OriginalView }) {
  const remark = useRemark(job);
  const [tag, setTag] = useState('');
  return (
    <div>
      <h3 className="quiet">Tags and note</h3>
      <div className="flex flex-wrap gap-1 my-1">
        {clip.tags.map((t) => (
          <button
            key={t}
            type="button"
            className="btn btn-xs"
            aria-label={`Remove the tag ${t}`}
            onClick={() => remark.mutate({ paths: [clip.path], remove: [t] })}
          >
            {t} ×
          </button>
        ))}
        <form
          onSubmit={(e) => {
            e.preventDefault();
            remark.mutate({ paths: [clip.path], add: [tag.trim()] }, { onSuccess: () => setTag(emptiedOf(tag)) });
          }}
        >
          <input
            className="input input-xs w-24"
            aria-label="New tag"
            placeholder="new tag"
            value={tag}
            onChange={(e) => setTag(e.target.value)}
          />
        </form>
      </div>
      <Note key={clip.path} job={job} clip={clip} />
    </div>
  );
}

/** The note of a clip. What is being written stays, whatever others save meanwhile: theirs is shown beside it, and replaced only by who has seen it. */
function Note({ job, clip: { path, note } }: { job: string; clip: OriginalView }) {
  const remark = useRemark(job);
  const { notes, write, settle } = useNotes();
  const draft = notes[path];
  const text = draft?.text ?? note;
  const theirs = draft !== undefined && draft.over !== note && text !== note;
  const keep = (over: string) =>
    text === note
      ? settle(path, text)
      : remark.mutateAsync({ paths: [path], note: text, was: over }).then(
          () => settle(path, text),
          // It was said why; the draft stays.
          () => undefined,
        );
  return (
    <>
      <textarea
        className="textarea textarea-xs w-full"
        aria-label="Note"
        placeholder="a note that follows the clip"
        maxLength={4000}
        value={text}
        onChange={(e) => write(path, e.target.value, note)}
        onBlur={() => draft && !theirs && keep(draft.over)}
      />
      {theirs && (
        <div className="space-y-1 mt-2" role="status">
          <p className="break-words">
            <span className="quiet">Someone else saved meanwhile: </span>
            {note || 'no note'}
          </p>
          <div className="flex gap-1">
            <button type="button" className="btn btn-xs" onClick={() => settle(path, text)}>
              Take theirs
            </button>
            <button type="button" className="btn btn-xs" onClick={() => keep(note)}>
              Replace it with mine
            </button>
          </div>
        </div>
      )}
    </>
  );
}
