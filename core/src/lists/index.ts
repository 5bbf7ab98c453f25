export * from './edl';
export * from './losses';
export * from './otio';
export * from './preparation';
export * from './registry';
export * from './table';
export * from './xmeml';
