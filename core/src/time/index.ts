export * from './range';
export * from './rate';
export * from './timecode';
