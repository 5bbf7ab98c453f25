export * from './assign';
export * from './cdl';
export * from './files';
