export * from './edl';
export * from './registry';
