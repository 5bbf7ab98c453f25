export * from './copies';
export * from './drawn';
