import type { Field } from '@gemello/core';
import type { ArrivalView } from '../../../contract';
import { ColumnNames } from '../../parts/ColumnNames';

const FIELD_NAMES: Record<Field, string> = {
  number: 'Event number',
  track: 'Track',
  reel: 'Reel',
  clipName: 'Clip name',
  fileName: 'File name',
  sourceIn: 'Source in',
  sourceOut: 'Source out',
  recordIn: 'Record in',
  recordOut: 'Record out',
  speed: 'Speed in percent',
  notes: 'Notes',
};

interface Props {
  readonly columns: NonNullable<ArrivalView['columns']>;
  /** What was chosen so far; it runs ahead of what the server last read. */
  readonly mapping: Partial<Record<Field, string>>;
  readonly onMap: (mapping: Partial<Record<Field, string>>) => void;
}

/** Which column of a table holds what, with its first rows, for a person to confirm. */
export function Columns({ columns: { headings, sample }, mapping, onMap }: Props) {
  return (
    <div className="overflow-x-auto">
      <p className="text-xs mb-1">Which column is what? Source in and source out are needed; columns without a meaning become notes.</p>
      <ColumnNames
        label="Columns of the table"
        headings={headings}
        sample={sample}
        fields={FIELD_NAMES}
        otherwise="a note"
        mapping={mapping}
        onMap={onMap}
      />
    </div>
  );
}
