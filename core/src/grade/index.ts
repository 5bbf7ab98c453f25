export * from './cdl';
export * from './files';
