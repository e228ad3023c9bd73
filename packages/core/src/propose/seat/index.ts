export { alongLine, alongWall, evenly } from './arrange.ts';
export { type FlatWish, findFlats } from './find-flats.ts';
export { mirroredJoint } from './group.ts';
export { across, midWall } from './mid-wall.ts';
export { type RoomField, roomField } from './room-field.ts';
export { type Seating, type SeatNote, type SeatWish, seatJoints } from './seat.ts';
export { type AxisLine, reflected, symmetryAxis } from './symmetry.ts';
