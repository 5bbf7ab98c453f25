export * from './cdl';
export * from './close';
export * from './files';
export * from './lut';
export * from './travel';
