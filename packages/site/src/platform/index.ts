export { attitude, sensorAxes } from './attitude';
export { nearby, type Nearby } from './nearby';
