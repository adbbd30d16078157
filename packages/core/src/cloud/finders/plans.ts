/** A setting of a finder as a form shows it. */
export interface FinderSetting {
  key: string;
  label: string;
  unit: string;
  min: number;
  max: number;
  step: number;
  digits: number;
  usual: number;
  /** What it does, in plain words. */
  reason: string;
}

export type FinderName =
  | 'groups'
  | 'connected'
  | 'sparse'
  | 'below'
  | 'above'
  | 'cells'
  | 'duplicates'
  | 'lines'
  | 'planes'
  | 'moving'
  | 'water'
  | 'shore';

/** Something that finds points by itself; what it finds is a selection, to be looked at before anything is done. */
export interface FinderPlan {
  title: string;
  what: string;
  /** Needs points of class ground, or a point that was picked. */
  needs?: 'ground' | 'point';
  settings: FinderSetting[];
}

const metres = (
  key: string,
  label: string,
  usual: number,
  min: number,
  max: number,
  reason: string,
): FinderSetting => ({
  key,
  label,
  unit: 'm',
  min,
  max,
  step: usual >= 1 ? 0.5 : 0.05,
  digits: 2,
  usual,
  reason,
});
const number = (
  key: string,
  label: string,
  usual: number,
  min: number,
  max: number,
  reason: string,
): FinderSetting => ({
  key,
  label,
  unit: '',
  min,
  max,
  step: 1,
  digits: 0,
  usual,
  reason,
});
const share = (key: string, label: string, usual: number, reason: string): FinderSetting => ({
  key,
  label,
  unit: '',
  min: 0.1,
  max: 1,
  step: 0.05,
  digits: 2,
  usual,
  reason,
});

export const FINDERS: Record<FinderName, FinderPlan> = {
  groups: {
    title: 'Isolated groups',
    what: 'Small groups of points that touch nothing else: birds, spray, passers-by.',
    settings: [
      metres('gapM', 'Apart by', 0.5, 0.05, 20, 'Points nearer than about this belong together.'),
      number('most', 'Points at most', 50, 1, 100000, 'Larger groups are taken to be things.'),
    ],
  },
  connected: {
    title: 'What hangs together with the picked point',
    what: 'All points that can be reached from the picked one without a gap.',
    needs: 'point',
    settings: [metres('gapM', 'Gap', 0.3, 0.02, 20, 'Points nearer than about this hang together.')],
  },
  sparse: {
    title: 'Few neighbours',
    what: 'Points with too few others around them.',
    settings: [
      metres('radiusM', 'Within', 1, 0.05, 20, 'Distance in which others are counted.'),
      number('fewest', 'Others at least', 4, 1, 30, 'With fewer the point is found.'),
    ],
  },
  below: {
    title: 'Below the ground',
    what: 'Points that lie deeper than the ground around them: reflections, errors of range.',
    needs: 'ground',
    settings: [metres('byM', 'Deeper by', 0.3, 0.02, 20, 'Ground itself is rough by some centimetres.')],
  },
  above: {
    title: 'By height above ground',
    what: 'Points between two heights above the ground, ground itself left out: vegetation, roofs, overhead lines.',
    needs: 'ground',
    settings: [
      metres('fromM', 'From', 2, -50, 500, 'Lowest height above ground.'),
      metres('toM', 'To', 50, -50, 500, 'Greatest height above ground.'),
    ],
  },
  cells: {
    title: 'Off the plane of their cell',
    what: 'Points far from the plane through their cell, measured by how much the others scatter about it.',
    settings: [
      metres('cellM', 'Cell', 1, 0.1, 50, 'Edge of a cell in plan; the surface is taken as flat within it.'),
      {
        ...number('factor', 'Spreads away', 5, 1.5, 50, 'How many times the usual distance from the plane.'),
        digits: 1,
      },
      number('fewest', 'Points at least', 10, 4, 1000, 'Cells with fewer get no verdict.'),
    ],
  },
  moving: {
    title: 'Moving things',
    what: 'Vehicles and people that stood there on one pass of the same street and not on another, which saw the ground in their place.',
    needs: 'ground',
    settings: [
      metres(
        'cellM',
        'Cell',
        0.4,
        0.1,
        5,
        'Passes are compared in it; wider than the spacing of points on the ground.',
      ),
      metres('fromM', 'Above ground from', 0.3, 0, 10, 'Kerbs and low growth are left out.'),
      metres('toM', 'Above ground to', 4.5, 0.5, 50, 'The height of a lorry.'),
      number('fewest', 'Points of a thing at least', 30, 1, 10000, 'Fewer are left to the finders of outliers.'),
    ],
  },
  water: {
    title: 'Water',
    what: 'Level surfaces that lie lower than what is beside them. Water that returned nothing leaves nothing to be found: see its edge.',
    settings: [
      metres('cellM', 'Cell', 1, 0.2, 20, 'Several times the spacing of returns off the water.'),
      metres('roughM', 'Waves and noise to', 0.05, 0.01, 1, 'Spread of heights within a cell, and step to the next.'),
      metres('slopeM', 'Rise on 100 m to', 0.1, 0.01, 5, 'Rivers fall a little; roads fall more.'),
      number('leastM2', 'Square metres at least', 50, 1, 1000000, 'Puddles and level yards are smaller.'),
    ],
  },
  shore: {
    title: "Water's edge",
    what: 'Ground points near the level of the water, beside points of class water or beside nothing, since water often returns nothing.',
    needs: 'ground',
    settings: [
      metres(
        'levelM',
        'Level of the water',
        0,
        -500,
        9000,
        'Counts where no point is of class water; in the heights of the project.',
      ),
      metres('withinM', 'Near it within', 0.15, 0.01, 5, 'Waves, tide during the survey, and the step between points.'),
      metres('cellM', 'Cell', 1, 0.1, 20, 'A cell without points beside one with ground is an edge.'),
    ],
  },
  duplicates: {
    title: 'Duplicates',
    what: 'Points at the same place and time as another; the first of each stays.',
    settings: [],
  },
  lines: {
    title: 'Lines: wires, poles, edges',
    what: 'Points above the ground whose neighbours lie along a line.',
    needs: 'ground',
    settings: [
      metres('radiusM', 'Looked at within', 0.8, 0.1, 10, 'About three times the spacing of points along a wire.'),
      share('least', 'Likeness to a line', 0.85, '1 is a perfect line.'),
      metres('aboveM', 'Above ground by', 2.5, 0, 100, 'Lower points are left out.'),
    ],
  },
  planes: {
    title: 'Planes: roofs and walls',
    what: 'Points above the ground whose neighbours lie in a plane.',
    needs: 'ground',
    settings: [
      metres('radiusM', 'Looked at within', 0.8, 0.1, 10, 'Several times the spacing of points on a roof.'),
      share('least', 'Likeness to a plane', 0.5, '1 is a perfect plane; edges of roofs and leaves come lower.'),
      metres('aboveM', 'Above ground by', 2, 0, 100, 'Lower points are left out.'),
    ],
  },
};
