export * from './fraction';
export * from './range';
export * from './rate';
export * from './schema';
export * from './timecode';
export * from './typed';
