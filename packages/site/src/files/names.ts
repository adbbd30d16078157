import { type NoiseLevel } from '../drive';

export type SiteSize = 'full' | 'small';

export interface SiteOptions {
  seed: number;
  size: SiteSize;
  level: NoiseLevel;
}

export const SITE_DEFAULTS: SiteOptions = { seed: 20260616, size: 'full', level: 'medium' };

export const FILE_NAMES = {
  trajectory: 'vehicle_20260616_traj.csv',
  head1: 'vehicle_20260616_head1.laser.h5',
  head2: 'vehicle_20260616_head2.laser.h5',
  mounting: 'vehicle_mount.json',
  marks: 'marks_network.csv',
  extraMarks: 'marks_extra.csv',
  oldCloud: 'old_cloud.las',
  rover: 'vehicle_20260616_gnss.rnx',
  base: 'brn1_20260616_gnss.rnx',
  navigation: 'site_20260616_nav.rnx',
  antennas: 'antennas.atx',
  orbits: 'site_20260616.sp3',
  geoid: 'site_geoid.gtx',
  pole: 'pole_20260616_gnss.rnx',
  occupations: 'pole_20260616_occupations.csv',
  measured: 'site_measured.csv',
  area: 'area_of_work.geojson',
  exposures: 'vehicle_20260616_exposures.csv',
  photos: 'vehicle_20260616_photos.csv',
  inertial: 'vehicle_20260616.imu.h5',
  olderRover: 'vehicle_20260615_old.26o',
  olderBase: 'brn1_20260616_old.26o',
} as const;

/** Photographs from the vehicle, and the flight and the voyage of the same day; only with the full set. */
export const JOURNEY_FILES = {
  vehiclePhotos: 'vehicle_20260616_photos.zip',
  vehicleCameras: 'vehicle_cameras.json',
  flightRover: 'flight_20260616_gnss.rnx',
  flightInertial: 'flight_20260616.imu.h5',
  flightMounting: 'flight_mount.json',
  flightExposures: 'flight_20260616_exposures.csv',
  flightPhotos: 'flight_20260616_photos.zip',
  flightPhotoList: 'flight_20260616_photos.csv',
  flightCameras: 'flight_cameras.json',
  flightPositions: 'flight_20260616_positions.csv',
  flightNominal: 'flight_cameras_nominal.json',
  flightPicks: 'flight_20260616_picks.csv',
  chamberPhotos: 'chamber_20260616_photos.zip',
  chamberPicks: 'chamber_20260616_picks.csv',
  chamberCameras: 'chamber_cameras_nominal.json',
  chamberDistances: 'chamber_20260616_distances.csv',
  flightReturns: 'flight_20260616_scanner.laser.h5',
  flightTrajectory: 'flight_20260616_traj.csv',
  boatRover: 'boat_20260616_gnss.rnx',
  boatInertial: 'boat_20260616.imu.h5',
  boatMounting: 'boat_mount.json',
  boatLine1: 'boat_20260616_line1.sonar.h5',
  boatLine2: 'boat_20260616_line2.sonar.h5',
  boatLine3: 'boat_20260616_line3.sonar.h5',
  boatLine4: 'boat_20260616_line4.sonar.h5',
  boatLine5: 'boat_20260616_line5.sonar.h5',
  boatCasts: 'boat_20260616_casts.csv',
  gauge: 'reach_20260616_gauge.csv',
  totalStation: 'depot_quay_20260616.zip',
  stand1: 'stand_1.las',
  stand2: 'stand_2.las',
  stand3: 'stand_3.las',
  stand4: 'stand_4.las',
  stand5: 'stand_5.las',
  stand6: 'stand_6.las',
  scanTargets: 'stands_targets.csv',
  scanSpheres: 'stands_spheres.csv',
  scanStations: 'stands_stations.csv',
} as const;

/** Names of all files of a set. */
export const fileNames = (size: SiteSize): string[] => [
  ...Object.values(FILE_NAMES),
  ...(size === 'full' ? Object.values(JOURNEY_FILES) : []),
];
