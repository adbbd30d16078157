export * from './crossings';
export * from './orders';
