import { mountingToJson } from '@longheron/core/frames';
import { writeLaserFile } from '@longheron/formats/laser';
import { parseSystem } from '@longheron/formats/crs';
import { trajectoryCsv } from '@longheron/formats/trajectory';
import { flyPlan, type Flight, type FlightPlan } from '@longheron/site/flights';
import { type OnFiles } from './onFiles';

export const FLIGHT_CRS = 'EPSG:25832+5773';
/** Middle of the area that is flown over. */
export const FLIGHT_MIDDLE: [number, number] = [467_200, 6_215_300];

/** Trajectory, returns and mounting of a flight as files in the folder, under a name. */
export async function flightFiles(files: OnFiles, name: string, plan: FlightPlan) {
  const flight: Flight = flyPlan(plan, parseSystem(FLIGHT_CRS), FLIGHT_MIDDLE);
  const trajectory = await files.put(`${name}.csv`, [...trajectoryCsv(flight.trajectory)].join(''));
  const mounting = await files.put(
    `${name}_mount.json`,
    JSON.stringify(mountingToJson({ sensors: { scanner: flight.mounting } })),
  );
  const returns = files.path(`${name}.laser.h5`);
  await writeLaserFile(
    returns,
    {
      week: flight.returns.week,
      sensor: 'scanner',
      serial: '',
      rangeSdM: plan.rangeSdM,
      angleSdDeg: plan.angleSdDeg,
    },
    flight.returns,
  );
  return { flight, paths: { trajectory: [trajectory], returns: [returns], mounting: [mounting] } };
}
