export * from './edl';
export * from './losses';
export * from './otio';
export * from './registry';
export * from './xmeml';
