import { AGREEMENT_DEFAULTS, COVERAGE_DEFAULTS } from '@longheron/core/accuracy';
import {
  CLOTH_DEFAULTS,
  DELIVERY_DEFAULTS,
  GROUND_DEFAULTS,
  SMOOTH_DEFAULTS,
  STRAY_DEFAULTS,
  THING_DEFAULTS,
} from '@longheron/core/cloud';
import { LIMIT_DEFAULTS } from '@longheron/core/laser';
import { PLAN_DEFAULTS } from '@longheron/operations/plan';
import { type DatasetKind } from '@longheron/contract/api';
import { type TaskRequest } from './tasks/types';

/** An operation of the trail: its version rises whenever its results change. */
export interface OperationPlan {
  task: TaskRequest['task'];
  version: number;
  title: string;
  output: { kind: DatasetKind; stage: string; name: string };
  roles: Record<string, { kinds: DatasetKind[]; several?: boolean; optional?: boolean }>;
  defaults: Record<string, unknown>;
}

/** Settings of what stands on the ground that a person may change. */
const { radiusM: _radius, ...THINGS } = THING_DEFAULTS;

export const PLANS: Record<string, OperationPlan> = {
  position: {
    task: 'position',
    version: 3,
    title: 'Compute the trajectory',
    output: { kind: 'trajectory', stage: 'position', name: 'Trajectory' },
    roles: {
      rover: { kinds: ['gnss-observations'], several: true },
      base: { kinds: ['gnss-observations'], several: true },
      navigation: { kinds: ['gnss-navigation'], several: true },
      orbits: { kinds: ['gnss-orbits'], several: true, optional: true },
      calibrations: { kinds: ['gnss-antennas'], several: true, optional: true },
      baseMarks: { kinds: ['marks'], optional: true },
      inertial: { kinds: ['inertial'], optional: true },
      antenna: { kinds: ['mounting'], optional: true },
    },
    defaults: { maskDeg: 10, direction: 'both', systems: 'GE' },
  },
  'trajectory-report': {
    task: 'trajectory-report',
    version: 1,
    title: 'Write the report on the trajectory',
    output: { kind: 'report', stage: 'position', name: 'Trajectory report' },
    roles: { trajectory: { kinds: ['trajectory'] } },
    defaults: {},
  },
  handover: {
    task: 'handover',
    version: 1,
    title: 'Write the trajectory to a file',
    output: { kind: 'export', stage: 'position', name: 'Trajectory to a file' },
    roles: { trajectory: { kinds: ['trajectory'] }, geoid: { kinds: ['geoid'], optional: true } },
    defaults: { plan: 'grid', heights: 'project' },
  },
  join: {
    task: 'join',
    version: 1,
    title: 'Join sessions',
    output: { kind: 'trajectory', stage: 'position', name: 'Joined trajectory' },
    roles: { parts: { kinds: ['trajectory'], several: true } },
    defaults: {},
  },
  stops: {
    task: 'stops',
    version: 1,
    title: 'Make marks of stops',
    output: { kind: 'marks', stage: 'position', name: 'Occupied marks' },
    roles: {
      trajectory: { kinds: ['trajectory'] },
      occupations: { kinds: ['occupations'], optional: true },
      known: { kinds: ['marks'], several: true, optional: true },
    },
    defaults: { shortestS: 10, antennaHeightM: 0, centringSdM: 0.004 },
  },
  network: {
    task: 'network',
    version: 1,
    title: 'Adjust a network',
    output: { kind: 'marks', stage: 'position', name: 'Network' },
    roles: {
      recordings: { kinds: ['gnss-observations'], several: true },
      navigation: { kinds: ['gnss-navigation'], several: true },
      orbits: { kinds: ['gnss-orbits'], several: true, optional: true },
      calibrations: { kinds: ['gnss-antennas'], several: true, optional: true },
      measured: { kinds: ['measurements'], optional: true },
      known: { kinds: ['marks'], several: true, optional: true },
    },
    defaults: { maskDeg: 10, held: [], antennaHeights: [], leastS: 120 },
  },
  events: {
    task: 'events',
    version: 1,
    title: 'Position events',
    output: { kind: 'positions', stage: 'position', name: 'Positions of events' },
    roles: {
      trajectory: { kinds: ['trajectory'] },
      events: { kinds: ['events'] },
      photos: { kinds: ['photos'], optional: true },
      mounting: { kinds: ['mounting'], optional: true },
    },
    defaults: { leaveOutStrays: true, leftOut: [], farthestM: 150 },
  },
  place: {
    task: 'place',
    version: 1,
    title: 'Make the cloud',
    output: { kind: 'point-cloud', stage: 'place', name: 'Cloud' },
    roles: {
      trajectory: { kinds: ['trajectory'] },
      returns: { kinds: ['laser-returns'], several: true },
      mounting: { kinds: ['mounting'] },
    },
    defaults: { minLengthM: 50, turnDegPerS: 6, targetPerM2: 100, ...LIMIT_DEFAULTS },
  },
  classify: {
    task: 'classify',
    version: 2,
    title: 'Find strays and ground',
    output: { kind: 'point-cloud', stage: 'clean', name: 'Classified cloud' },
    roles: { cloud: { kinds: ['point-cloud'] } },
    defaults: {
      ground: true,
      noise: true,
      method: 'triangles',
      ...GROUND_DEFAULTS,
      ...CLOTH_DEFAULTS,
      ...STRAY_DEFAULTS,
      things: true,
      ...THINGS,
    },
  },
  extract: {
    task: 'extract',
    version: 1,
    title: 'Make a cloud of a selection',
    output: { kind: 'point-cloud', stage: 'clean', name: 'Part of a cloud' },
    roles: { cloud: { kinds: ['point-cloud'] } },
    defaults: { keep: 'precise' },
  },
  merge: {
    task: 'merge',
    version: 1,
    title: 'Merge clouds',
    output: { kind: 'point-cloud', stage: 'clean', name: 'Merged cloud' },
    roles: { clouds: { kinds: ['point-cloud'], several: true } },
    defaults: { strips: 'by time' },
  },
  reproject: {
    task: 'reproject',
    version: 1,
    title: "Bring a cloud into the project's system",
    output: { kind: 'point-cloud', stage: 'clean', name: "Cloud in the project's system" },
    roles: { cloud: { kinds: ['point-cloud'] } },
    defaults: {},
  },
  smooth: {
    task: 'smooth',
    version: 1,
    title: 'Smooth surfaces',
    output: { kind: 'point-cloud', stage: 'clean', name: 'Smoothed cloud' },
    roles: { cloud: { kinds: ['point-cloud'] } },
    defaults: { ...SMOOTH_DEFAULTS },
  },
  align: {
    task: 'align',
    version: 1,
    title: 'Place a cloud by marks',
    output: { kind: 'point-cloud', stage: 'clean', name: 'Placed cloud' },
    roles: { cloud: { kinds: ['point-cloud'] }, marks: { kinds: ['marks'], several: true } },
    defaults: { scale: 'plan', level: false },
  },
  check: {
    task: 'check',
    version: 2,
    title: 'Check heights at marks',
    output: { kind: 'residuals', stage: 'prove', name: 'Height residuals' },
    roles: { cloud: { kinds: ['point-cloud'] }, marks: { kinds: ['marks'], several: true } },
    defaults: {},
  },
  agreement: {
    task: 'agreement',
    version: 1,
    title: 'Compare overlapping strips',
    output: { kind: 'agreement', stage: 'prove', name: 'Strip agreement' },
    roles: { cloud: { kinds: ['point-cloud'] } },
    defaults: { ...AGREEMENT_DEFAULTS, groundOnly: false },
  },
  coverage: {
    task: 'coverage',
    version: 1,
    title: 'Measure density and voids',
    output: { kind: 'coverage', stage: 'prove', name: 'Coverage' },
    roles: { cloud: { kinds: ['point-cloud'] }, outlines: { kinds: ['outlines'], optional: true } },
    defaults: { ...COVERAGE_DEFAULTS, groundOnly: false },
  },
  'class-check': {
    task: 'class-check',
    version: 1,
    title: 'Compare classes with a reference',
    output: { kind: 'class-check', stage: 'prove', name: 'Classes against a reference' },
    roles: {
      cloud: { kinds: ['point-cloud'] },
      against: { kinds: ['point-cloud'], optional: true },
      outlines: { kinds: ['outlines'], optional: true },
    },
    defaults: {},
  },
  delivery: {
    task: 'delivery',
    version: 1,
    title: 'Check a delivery of tiles',
    output: { kind: 'delivery', stage: 'clean', name: 'Delivery of tiles' },
    roles: {
      clouds: { kinds: ['point-cloud'], several: true },
      outlines: { kinds: ['outlines'], optional: true },
    },
    defaults: { ...DELIVERY_DEFAULTS },
  },
  'plan-check': {
    task: 'plan-check',
    version: 2,
    title: 'Check plan at marks',
    output: { kind: 'plan-check', stage: 'prove', name: 'Plan residuals' },
    roles: {
      cloud: { kinds: ['point-cloud'] },
      marks: { kinds: ['marks'], several: true },
      measured: { kinds: ['measurements'], several: true, optional: true },
    },
    defaults: { ...PLAN_DEFAULTS },
  },
  correct: {
    task: 'correct',
    version: 1,
    title: 'Take out the height bias',
    output: { kind: 'point-cloud', stage: 'clean', name: 'Cloud, bias taken out' },
    roles: { cloud: { kinds: ['point-cloud'] }, check: { kinds: ['residuals'] } },
    defaults: { by: 'control' },
  },
  surface: {
    task: 'surface',
    version: 1,
    title: 'Make the terrain model',
    output: { kind: 'surface', stage: 'deliver', name: 'Terrain model' },
    roles: { cloud: { kinds: ['point-cloud'] } },
    defaults: { cellM: 0.5, maxGapM: 3, contoursM: 0.25, tinSpacingM: 0.5 },
  },
  'export-cloud': {
    task: 'export-cloud',
    version: 2,
    title: 'Write points to a file',
    output: { kind: 'export', stage: 'deliver', name: 'Points to a file' },
    roles: { cloud: { kinds: ['point-cloud'] } },
    defaults: {
      ...{ classes: [], strips: [], withRejected: false, format: 'las', split: 'one' },
      ...{ tileM: 100, bufferM: 0, capPoints: 5_000_000 },
    },
  },
  report: {
    task: 'report',
    version: 2,
    title: 'Write the report',
    output: { kind: 'report', stage: 'deliver', name: 'Report' },
    roles: {
      surface: { kinds: ['surface'] },
      check: { kinds: ['residuals'] },
      plan: { kinds: ['plan-check'], optional: true },
      strips: { kinds: ['agreement'], optional: true },
      coverage: { kinds: ['coverage'], optional: true },
      classes: { kinds: ['class-check'], optional: true },
    },
    defaults: {},
  },
};
