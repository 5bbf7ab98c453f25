import type { JobView, ListEntry } from '../../../contract';
import {
  useDeliver,
  useGuidePath,
  useGuideUpload,
  useListPath,
  useReferencePath,
  useReferenceUpload,
  useRemoveGuide,
} from '../../data/queries';
import { FileButton } from '../../parts/FileButton';
import { PathForm } from '../../parts/PathForm';
import { Checks } from './Checks';
import type { Look } from './look';

export const isMovie = (file: File) => /\.(mov|mp4|m4v|mxf|mkv|avi)$/i.test(file.name);
export const isSound = (file: File) => /\.(wav|bwf|aiff?|mp3|m4a|aac|flac)$/i.test(file.name);

interface Props {
  readonly job: string;
  readonly view: JobView;
  readonly lists: readonly ListEntry[];
  readonly onLook: (look: Look) => void;
}

/** The list, the reference and the settings of both, across the top of the stage. */
export function Deliveries({ job, view, lists, onLook }: Props) {
  return (
    <div className="grid sm:grid-cols-2 lg:grid-cols-[minmax(17rem,1fr)_minmax(19rem,1.15fr)_minmax(22rem,1.7fr)] gap-x-6 gap-y-3 px-4 py-3 max-h-[55%] overflow-y-auto shrink-0 border-b border-base-300">
      <ListSection job={job} view={view} lists={lists} onLook={onLook} />
      <ReferenceSection job={job} view={view} onLook={onLook} />
      {view.checks.length > 0 ? (
        <section aria-label="Settings check">
          <Checks checks={view.checks} />
        </section>
      ) : (
        <p className="quiet text-xs self-center">
          Once a list is imported, its rate, start, length and raster are compared with the reference.
        </p>
      )}
    </div>
  );
}

function ListSection({ job, view, lists, onLook }: Props) {
  const deliver = useDeliver(job);
  const byPath = useListPath(job);
  const others = lists.filter((l) => !l.current && l.state !== 'arrived');
  return (
    <section aria-label="Edit list">
      <h2 className="text-xs quiet mb-1">Edit list</h2>
      {view.list ? (
        <p className="mb-2 leading-snug">
          <span className="font-medium">{view.list.fileName}</span>
          <br />
          <span className="quiet text-xs">
            {view.list.title}, from <span className="tc">{view.list.startTimecode}</span>, {view.list.durationFrames} frames
          </span>
        </p>
      ) : (
        <p className="quiet text-xs mb-2">
          Drop the list here or choose it. Several edit lists chosen together are the layers of one cut; lists of other formats stay apart.
          Every file is kept unchanged.
        </p>
      )}
      <div className="flex flex-wrap gap-1">
        <FileButton multiple disabled={deliver.isPending} onFiles={(files) => deliver.mutate(files)}>
          {deliver.isPending ? 'Reading…' : view.list ? 'Import another list' : 'Choose a list'}
        </FileButton>
        {view.list && (
          <>
            <button type="button" className="btn btn-xs" onClick={() => view.list && onLook({ kind: 'arrival', list: view.list.id })}>
              Change reading
            </button>
            <button type="button" className="btn btn-xs" onClick={() => onLook({ kind: 'writing' })}>
              Export
            </button>
          </>
        )}
        {others.length > 0 && (
          <select
            className="select select-xs w-56"
            aria-label="Compare the cut with another list"
            value=""
            onChange={(e) => e.target.value && onLook({ kind: 'beside', list: e.target.value })}
          >
            <option value="">Compare with another list…</option>
            {others.map((l) => (
              <option key={l.id} value={l.id}>
                {l.files.join(', ')}
              </option>
            ))}
          </select>
        )}
      </div>
      <PathForm
        label="Path of a list"
        placeholder="or its path on this machine"
        verb="Import"
        pending={byPath.isPending}
        onPath={(path, onSuccess) => byPath.mutate(path, { onSuccess })}
        className="mt-1"
      />
    </section>
  );
}

function ReferenceSection({ job, view, onLook }: Omit<Props, 'lists'>) {
  return (
    <section aria-label="Reference movie">
      <h2 className="text-xs quiet mb-1">Reference movie</h2>
      {view.reference ? (
        <p className="mb-2 leading-snug">
          <span className="font-medium">{view.reference.fileName}</span>
          <br />
          <span className="quiet text-xs">
            {view.reference.raster.width}×{view.reference.raster.height} {view.reference.codec}
            {view.reference.timecodeIn && (
              <>
                , from <span className="tc">{view.reference.timecodeIn}</span>
              </>
            )}
          </span>
        </p>
      ) : (
        <p className="quiet text-xs mb-2">
          The render that was delivered with the cut. For a large file, enter its path instead of uploading it.
        </p>
      )}
      <div className="flex flex-wrap gap-1">
        <Given upload={useReferenceUpload(job)} byPath={useReferencePath(job)} what="reference movie" verb="Use as reference" />
        {view.reference && (
          <button
            type="button"
            className="btn btn-xs"
            title="Cut the movie up again, make a list of it, or find its shots in the originals"
            onClick={() => onLook({ kind: 'cuts' })}
          >
            Find its cuts
          </button>
        )}
      </div>
      <GuideSound job={job} guide={view.guide} />
    </section>
  );
}

interface GivenProps {
  readonly upload: ReturnType<typeof useReferenceUpload>;
  readonly byPath: ReturnType<typeof useReferencePath>;
  readonly what: string;
  readonly verb: string;
}

/** A file that was delivered with the cut: chosen, or named by its path on this machine. */
function Given({ upload, byPath, what, verb }: GivenProps) {
  return (
    <>
      <FileButton label={`Choose the ${what}`} disabled={upload.isPending} onFiles={([file]) => file && upload.mutate(file)}>
        {upload.isPending ? 'Reading…' : 'Choose'}
      </FileButton>
      <PathForm
        label={`Path of the ${what}`}
        placeholder="or its path here"
        verb={verb}
        pending={byPath.isPending}
        onPath={(path, onSuccess) => byPath.mutate(path, { onSuccess })}
        className="grow"
      />
    </>
  );
}

const LIES: Record<NonNullable<NonNullable<JobView['guide']>['lies']>, string> = {
  timecode: 'laid by its timecode',
  reference: 'begins with the reference: its timecode does not fall on the cut, or it has none',
  cut: 'begins with the cut: its timecode does not fall on it, or it has none',
};

/** Guide sound that came as a file of its own; it is heard in place of the reference's. */
function GuideSound({ job, guide }: { job: string; guide: JobView['guide'] }) {
  const remove = useRemoveGuide(job);
  return (
    <section aria-label="Guide sound" className="mt-3">
      <h2 className="text-xs quiet mb-1">Guide sound</h2>
      {guide && (
        <p className="mb-1 text-xs leading-snug">
          <span className="font-medium">{guide.fileName}</span>
          {guide.lies && <span className="quiet">{`: ${LIES[guide.lies]}`}</span>}
        </p>
      )}
      <div className="flex flex-wrap gap-1">
        <Given upload={useGuideUpload(job)} byPath={useGuidePath(job)} what="guide sound" verb="Use as guide" />
        {guide && (
          <button type="button" className="btn btn-xs" disabled={remove.isPending} onClick={() => remove.mutate()}>
            Remove guide
          </button>
        )}
      </div>
    </section>
  );
}
