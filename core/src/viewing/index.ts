export * from './copies';
export * from './drawn';
export * from './sound';
