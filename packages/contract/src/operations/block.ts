import { flag, number, operation, text } from '../declare';

/** Terms of a camera as files and commands name them, without their units. */
export const CALIBRATED: readonly string[] = ['focal', 'cx', 'cy', 'k1', 'k2', 'k3', 'p1', 'p2'];

export default operation({
  name: 'block',
  title: 'Adjust the photographs',
  past: 'adjusted',
  stage: 'place',
  version: 1,
  systemless: true,
  result: 'block',
  resultName: 'Block of photographs',
  roles: {
    photos: {
      kind: 'photo-set',
      label: 'Photographs',
      several: true,
      none: 'picks alone',
      flag: 'photos',
      reason:
        'A folder or a ZIP archive of JPEG files: ties between them are found by themselves. Several are one block.',
    },
    picks: {
      kind: 'picks',
      label: 'Picks',
      several: true,
      none: 'none',
      flag: 'picks',
      reason:
        'Where points are seen in photographs, CSV: image, point, x_px, y_px. Points named as marks are those marks.',
    },
    cameras: { kind: 'cameras', label: 'Cameras', flag: 'cameras', reason: 'JSON; nominal values are enough.' },
    positions: {
      kind: 'positions',
      label: 'Where they were taken',
      several: true,
      none: 'not known',
      flag: 'positions',
      reason: 'Positions of events or orientations. Without them the block has a frame of its own.',
    },
    mounting: {
      kind: 'mounting',
      label: 'Mounting',
      none: 'none',
      flag: 'mount',
      reason: 'Where positions are not those of a camera: its lever arm is applied, once.',
    },
    marks: {
      kind: 'marks',
      label: 'Marks',
      none: 'none',
      flag: 'marks',
      reason: 'Control enters with its deviations, check marks prove the block.',
    },
    distances: {
      kind: 'distances',
      label: 'Known distances',
      none: 'none',
      flag: 'distances',
      reason: 'Taped between points: for the scale, or as a check.',
    },
  },
  settings: {
    pickSdPx: number({
      label: 'Pointing SD',
      flag: 'pick-sd',
      unit: 'px',
      min: 0.01,
      max: 50,
      step: 0.1,
      digits: 2,
      usual: 0.5,
      reason: 'Of a pick, in x and in y, where the list does not say; residuals correct it.',
    }),
    ties: flag({
      label: 'Find ties',
      flag: 'ties',
      flagOff: 'no-ties',
      usual: true,
      reason: 'Between the photographs, besides what is picked.',
    }),
    tieSdPx: number({
      label: 'SD of ties',
      flag: 'tie-sd',
      unit: 'px',
      min: 0.01,
      max: 50,
      step: 0.1,
      digits: 2,
      usual: 0.2,
      reason: 'Of a tie that was found by itself, in x and in y; residuals correct it.',
    }),
    sessions: text({
      label: 'Sessions to take',
      flag: 'sessions',
      most: 80,
      usual: 'all',
      reason:
        'all, or numbers between commas. A session ends where more than a quarter of an hour passes to the next photograph, or another body is carried; they are numbered set by set.',
    }),
    apart: flag({
      label: 'A camera for each session',
      flag: 'cameras-apart',
      usual: false,
      reason: 'Where the lens was changed or focused anew in between; else a body keeps one calibration.',
    }),
    calibrate: text({
      label: 'Camera terms to find',
      flag: 'self-calibrate',
      most: 80,
      usual: 'auto',
      reason: `auto: what the block tells of; none; or a list of ${CALIBRATED.join(', ')}.`,
    }),
    shift: flag({
      label: 'Find a shift of the positions',
      flag: 'session-shift',
      usual: false,
      reason:
        'One for the photographs of each session, where all are off alike: another point, another datum. Needs control.',
    }),
  },
  refuse: (s, chosen) => {
    if (!chosen.photos && !chosen.picks) return 'Choose photographs, picks, or both.';
    if (!chosen.picks && s.ties === false) return 'Without ties there must be picks.';
    if (!/^\s*(all|\d+(\s*,\s*\d+)*)\s*$/.test(String(s.sessions ?? 'all')))
      return `"${String(s.sessions)}" names no sessions: all, or numbers as 1,3.`;
    const words = String(s.calibrate ?? 'auto').split(',');
    const wrong = words.find((w) => !['auto', 'none', ...CALIBRATED].includes(w.trim()));
    if (wrong !== undefined)
      return `"${wrong}" is no term of a camera; known are auto, none and ${CALIBRATED.join(', ')}.`;
    return words.length > 1 && words.some((w) => ['auto', 'none'].includes(w.trim()))
      ? 'auto and none stand alone.'
      : undefined;
  },
  command: {
    name: 'block',
    what: 'photographs oriented together, with points and cameras, proved at marks and distances',
    system: { flag: 'crs', reason: 'Of marks and points, e.g. EPSG:25832+5773; not needed in a frame of its own.' },
    files: {
      out: { file: 'oriented', must: true, reason: 'Orientations, CSV.' },
      'points-out': { file: 'points', reason: 'Points, CSV.' },
      'cameras-out': { file: 'cameras', reason: 'Adjusted cameras, JSON.' },
      'ties-out': { file: 'ties', reason: 'Ties that were found and fit, as picks, CSV.' },
    },
    example: `npx longheron block --picks picks.csv --cameras cameras.json --positions positions.csv --marks marks.csv \\
           --crs EPSG:25832+5773 --out oriented.csv --points-out points.csv --cameras-out adjusted.json`,
  },
  chapter: 32,
});
