export * from './cdl';
export * from './files';
export * from './lut';
