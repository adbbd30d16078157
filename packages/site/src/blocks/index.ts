export * from './flown';
export { blockOf } from './adjusted';
export { drawRoom, ROOM_PLAN, type TrueRoom } from './room';
export * from './errors';
