/** What a format of lists is called, and what can be said of it without reading or writing one. */
export interface ListKind {
  readonly name: string;
  readonly title: string;
  readonly extensions: readonly string[];
  /** True where a list states the rate of its record. */
  readonly statesRate: boolean;
  /** True where systems read one picture layer a file, so that layers are better written apart. */
  readonly flat: boolean;
  /** True where a list can say more than cuts. */
  readonly hasTransitions: boolean;
  /** True where what a file came with that has no place in the model goes out with it again. */
  readonly keepsForeign: boolean;
  /** True where a list can hold what is switched off. */
  readonly canSwitchOff: boolean;
}

/** Every format that is read and written. */
export const LIST_KINDS = {
  otio: {
    name: 'otio',
    title: 'OpenTimelineIO',
    extensions: ['otio', 'otioz'],
    flat: false,
    hasTransitions: true,
    statesRate: true,
    keepsForeign: true,
    canSwitchOff: true,
  },
  xmeml: {
    name: 'xmeml',
    title: 'Interchange XML (xmeml)',
    extensions: ['xml', 'xmeml'],
    flat: false,
    hasTransitions: true,
    statesRate: true,
    keepsForeign: true,
    canSwitchOff: true,
  },
  edl: {
    name: 'edl',
    title: 'Edit list, CMX 3600 style',
    extensions: ['edl'],
    flat: true,
    hasTransitions: true,
    statesRate: false,
    keepsForeign: false,
    canSwitchOff: false,
  },
  table: {
    name: 'table',
    title: 'Table (CSV, TSV)',
    extensions: ['csv', 'tsv'],
    flat: true,
    hasTransitions: false,
    statesRate: false,
    keepsForeign: false,
    canSwitchOff: false,
  },
  aaf: {
    name: 'aaf',
    title: 'AAF',
    extensions: ['aaf'],
    flat: false,
    hasTransitions: true,
    statesRate: true,
    keepsForeign: false,
    canSwitchOff: true,
  },
} as const satisfies Record<string, ListKind>;
