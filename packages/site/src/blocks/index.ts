export * from './flown';
export { blockOf } from './adjusted';
export { drawRoom, ROOM_PLAN, type TrueRoom } from './room';
export { drawPanoramas, type TruePanoramas } from './panoramas';
export { drawRoomPicture, roomCamera } from './roomPictures';
export * from './errors';
