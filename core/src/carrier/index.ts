export { SHIPPED_MACHINES } from './shipped-machines.ts';
export { feetOf, fittingFoot, footOf, standingOn } from './feet.ts';
export { fromNose, indexAxisOf, machineFromGauge, noseAt, planeOf, seatAtWork, stationMotion, toMachine, turningFrame } from './frames.ts';
export {
  type EdgeAtWork,
  edgeAtWork,
  type Feed,
  FLATTEST_LEAD,
  indexError,
  lieAgainst,
  type OwnEdge,
  reliefFor,
  type TakenFeed,
  workMotion,
} from './edge-at-work.ts';
export { anglesBetween, controlAngle, headAngle, swivelWindow, type SwivelWindow, USUAL_POSES } from './swivel.ts';
export { slideGeometry, type SlideGeometry } from './slide.ts';
export { jawFront, workIn } from './spindle.ts';
export type * from './rows.ts';
export { liesOfSeats, type SeatLie } from './place-checks.ts';
export { offsetTable, tellSetUp, type ToldSetUp } from './tell-set-up.ts';
export { LEAST_RELIEF, reliefsOfHead, setUpTable } from './set-up-table.ts';
export { nearestTo, type Nearest, type Positions, type Turned } from './clearance.ts';
export {
  type Carried,
  carriedWith,
  checkRoom,
  checkSwing,
  type Clearance,
  clearances,
  ownBodyOf,
  type Room,
  roomOf,
  type SpindleBody,
  type Swing,
  swings,
  turnedBodies,
  type WorkPositions,
  workPositions,
} from './room.ts';
export { boltsThrough, footHoles, TURNS } from './bolts.ts';
export { chuckLike, discLike, headLike, measuredFrom } from './measure-shapes.ts';
export { chuckShapes, type MachineShape } from './machine-shapes.ts';
export { allowedAngles, type AllowedRange, headRoom, type HeadRoom, LEAST_ROOM, type RoomAtAngle, roomBetween } from './head-room.ts';
export { type Jog, jogOf, parkedAt, type SaidPlace } from './jog.ts';
export { newCarrier, newCounterSpindle } from './new-parts.ts';
