import type { AafObject } from './object';

/** The classes and properties that are read (AMWA AAF Object Specification 1.1; ids as its reference implementation has them). */
const CLASS_BY_NUMBER: Readonly<Record<string, string>> = {
  '0500': 'EssenceGroup',
  '0800': 'CommentMarker',
  '0900': 'Filler',
  '0a00': 'OperationGroup',
  '0b00': 'NestedScope',
  '0c00': 'Pulldown',
  '0d00': 'ScopeReference',
  '0e00': 'Selector',
  '0f00': 'Sequence',
  '1100': 'SourceClip',
  '1400': 'Timecode',
  '1700': 'Transition',
  '2e00': 'TapeDescriptor',
  '3500': 'CompositionMob',
  '3600': 'MasterMob',
  '3700': 'SourceMob',
  '3900': 'EventMobSlot',
  '3a00': 'StaticMobSlot',
  '3b00': 'TimelineMobSlot',
  '3d00': 'ConstantValue',
  '3e00': 'VaryingValue',
  '4100': 'DescriptiveMarker',
  '4a00': 'ImportDescriptor',
};

const CLASSES = new Map(Object.entries(CLASS_BY_NUMBER).map(([number, name]) => [`0d010101-0101-${number}-060e-2b3402060101`, name]));

/** The name of an object's class; empty where it is none of those that are read. */
export const classOf = ({ classId }: AafObject): string => CLASSES.get(classId) ?? '';

export const PID = {
  header: 0x0002,
  content: 0x3b03,
  dictionary: 0x3b04,
  mobs: 0x1901,
  operationDefinitions: 0x2603,
  parameterDefinitions: 0x2604,
  identification: 0x1b01,
  definitionName: 0x1b02,
  dataDefinition: 0x0201,
  length: 0x0202,
  componentComments: 0x0204,
  componentAttributes: 0x0205,
  mobId: 0x4401,
  mobName: 0x4402,
  slots: 0x4403,
  mobComments: 0x4406,
  usage: 0x4408,
  mobAttributes: 0x4409,
  essenceDescription: 0x4701,
  slotId: 0x4801,
  slotName: 0x4802,
  segment: 0x4803,
  trackNumber: 0x4804,
  editRate: 0x4b01,
  origin: 0x4b02,
  eventEditRate: 0x4901,
  components: 0x1001,
  sourceId: 0x1101,
  sourceSlot: 0x1102,
  startTime: 0x1201,
  timecodeStart: 0x1501,
  timecodeFps: 0x1502,
  timecodeDrop: 0x1503,
  transitionOperation: 0x1801,
  cutPoint: 0x1802,
  operation: 0x0b01,
  inputs: 0x0b02,
  parameters: 0x0b03,
  scopeSlots: 0x0c01,
  relativeScope: 0x0e01,
  relativeSlot: 0x0e02,
  selected: 0x0f01,
  alternates: 0x0f02,
  choices: 0x0501,
  pulldownInput: 0x0d01,
  pulldownKind: 0x0d02,
  pulldownDirection: 0x0d03,
  pulldownPhase: 0x0d04,
  eventPosition: 0x0601,
  eventComment: 0x0602,
  parameterDefinition: 0x4c01,
  constant: 0x4d01,
  interpolation: 0x4e01,
  points: 0x4e02,
  describedSlots: 0x6102,
  pointValue: 0x1a02,
  pointTime: 0x1a03,
  taggedName: 0x5001,
  taggedValue: 0x5003,
  locators: 0x2f01,
  url: 0x4001,
  storedHeight: 0x3202,
  storedWidth: 0x3203,
} as const;

/** What a slot or a component is of, as it is written. */
export const DEFINED = {
  picture: '01030202-0100-0000-060e-2b3404010101',
  sound: '01030202-0200-0000-060e-2b3404010101',
  timecode: '01030201-0100-0000-060e-2b3404010101',
  marks: '01030201-1000-0000-060e-2b3404010101',
} as const;

/** The same by its data definition, with those that are only read: pictures with data beside, and those of the first version of the specification. */
export const DATA: Readonly<Record<string, keyof typeof DEFINED>> = {
  [DEFINED.picture]: 'picture',
  '01030202-0300-0000-060e-2b3404010101': 'picture',
  '6f3c8ce1-6cef-11d2-807d-006008143e6f': 'picture',
  [DEFINED.sound]: 'sound',
  '78e1ebe1-6cef-11d2-807d-006008143e6f': 'sound',
  [DEFINED.timecode]: 'timecode',
  '7f275e81-77e5-11d2-807f-006008143e6f': 'timecode',
  [DEFINED.marks]: 'marks',
};

/** Operations by their AUID, where the dictionary does not name them (AAF Object Specification, operation definitions). */
export const OPERATIONS = {
  dissolve: '0c3bea40-fc05-11d2-8a29-0050040ef7d2',
  wipe: '0c3bea44-fc05-11d2-8a29-0050040ef7d2',
  speed: '9d2ea890-0968-11d3-8a38-0050040ef7d2',
  repeat: '9d2ea891-0968-11d3-8a38-0050040ef7d2',
  title: '2c50831c-572e-4042-b1dd-55ed0b7c49df',
  scale: '2e0a119d-e6f7-4bee-b5dc-6dd42988687e',
  opacity: '9bb90dfd-2aad-49af-b09c-8ba6cd5281d1',
  flip: 'f1db0f32-8d64-11d3-80df-006008143e6f',
  flop: 'f1db0f34-8d64-11d3-80df-006008143e6f',
  flipFlop: 'f1db0f33-8d64-11d3-80df-006008143e6f',
} as const;
/**
 * Parameters: how fast, length out over length in; the same as maps of offsets and of speeds, with the handles of their points (extensions that
 * files in the field carry); the pattern of a wipe; what a title says; how large and how far seen through a picture is, as a factor, and as a percentage.
 */
export const PARAMETERS = {
  speedRatio: '72559a80-24d7-11d3-8a50-0050040ef7d2',
  speedOffsets: '8d56827d-847e-11d5-935a-50f857c10000',
  offsets: '8d56827a-847e-11d5-935a-50f857c10000',
  speeds: '8d56827c-847e-11d5-935a-50f857c10000',
  arrivesTime: '8d56830e-847e-11d5-935a-50f857c10000',
  arrivesValue: '8d56830f-847e-11d5-935a-50f857c10000',
  leavesTime: '8d568310-847e-11d5-935a-50f857c10000',
  leavesValue: '8d568311-847e-11d5-935a-50f857c10000',
  wipeNumber: 'e4962323-2267-11d3-8a4c-0050040ef7d2',
  titleText: '7b92827b-5ae3-465e-b5f9-5ee21b070859',
  scaleX: '8d568129-847e-11d5-935a-50f857c10000',
  scaleY: '8d56812a-847e-11d5-935a-50f857c10000',
  opacity: 'cb7c0ec4-f45f-4ee6-aef0-c63ddb134924',
  percentEnabled: '8d5681b2-847e-11d5-935a-50f857c10000',
  percentX: '8d5681b3-847e-11d5-935a-50f857c10000',
  percentY: '8d5681b4-847e-11d5-935a-50f857c10000',
} as const;

/** How a value goes from one point to the next: evenly, or not until the next (AAF Object Specification, interpolation definitions). */
export const LINEAR = '5b6c85a4-0ede-11d3-80a9-006008143e6f';
export const HELD = '5b6c85a5-0ede-11d3-80a9-006008143e6f';

/** Names of tagged values: a remark that has no name of its own; number and kind of an event, which the format has no place for. */
export const [REMARK, EVENT_NUMBER, EVENT_KIND] = ['Comment', 'EventNumber', 'EventKind'] as const;

/** How a composition is marked that is a cut of its own, and not a part of one. */
export const TOP_LEVEL = '0d010102-0101-0700-060e-2b3404010101';
