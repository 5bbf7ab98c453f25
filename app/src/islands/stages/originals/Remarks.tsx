import { useState } from 'react';
import type { OriginalView } from '../../../contract';
import { useRemark } from '../../data/queries';

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
            remark.mutate({ paths: [clip.path], add: [tag.trim()] }, { onSuccess: () => setTag('') });
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
      <textarea
        key={clip.note}
        className="textarea textarea-xs w-full"
        aria-label="Note"
        placeholder="a note that follows the clip"
        defaultValue={clip.note}
        onBlur={(e) => e.target.value !== clip.note && remark.mutate({ paths: [clip.path], note: e.target.value })}
      />
    </div>
  );
}
