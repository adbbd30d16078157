import { list, number, operation, text, values } from '../declare';

const sd = (label: string) =>
  number({ label, reason: '1 SD within which the point keeps its coordinates.', unit: 'm', min: 0, max: 10, usual: 0 });

export default operation({
  name: 'network',
  title: 'Adjust a network',
  past: 'adjusted',
  stage: 'position',
  version: 2,
  result: 'marks',
  resultName: 'Network',
  roles: {
    recordings: {
      ...{ kind: 'gnss-observations', label: 'Recordings at rest', several: true, flag: 'recordings' },
      reason: 'RINEX; each is a point by the marker in its header.',
    },
    navigation: { kind: 'gnss-navigation', label: 'Navigation', several: true, none: 'none', flag: 'nav' },
    orbits: { kind: 'gnss-orbits', label: 'Precise orbits', several: true, none: 'none', flag: 'sp3' },
    calibrations: {
      ...{ kind: 'gnss-antennas', label: 'Antenna calibrations', several: true, none: 'none', flag: 'antex' },
    },
    measured: {
      ...{ kind: 'measurements', label: 'Taped and levelled', none: 'none', flag: 'measured' },
      reason: 'Distances and levelled height differences, CSV.',
    },
    known: {
      ...{ kind: 'marks', label: 'Known marks', several: true, none: 'none', flag: 'marks' },
      reason: 'Marks that measurements lead to; held within their own deviations.',
    },
  },
  settings: {
    maskDeg: number({
      ...{ label: 'Lowest elevation', flag: 'mask', unit: '°', min: 0, max: 60, step: 1, digits: 0, usual: 10 },
      reason: 'Lower satellites steady the height but bring more noise and multipath.',
    }),
    held: list({
      ...{ label: 'Held points', least: 1, most: 1000, fewer: 'At least one point is held.' },
      reason: 'Points that keep their coordinates within their deviations.',
      of: {
        name: text({
          label: 'Name of a held point',
          reason: 'Marker of its recording.',
          least: 1,
          most: 60,
          usual: '',
        }),
        mark: text({
          label: 'Mark',
          reason: 'Whose coordinates it has; its header without it.',
          most: 60,
          usual: null,
        }),
        sdPlanM: sd('SD in plan of a held point'),
        sdHeightM: sd('SD in height of a held point'),
      },
    }),
    leastS: number({
      ...{ label: 'Shortest session', flag: 'shortest', unit: 's', min: 10, max: 1e6, step: 10, digits: 0, usual: 120 },
      reason: 'Shorter common spans make no vector.',
    }),
    antennaHeights: list({
      ...{ label: 'Antenna heights', least: 0, most: 1000, fewer: '' },
      reason: 'They replace those of headers.',
      of: {
        recording: number({
          ...{
            label: 'Place of the recording in the list',
            reason: 'From 0.',
            unit: '',
            min: 0,
            max: 1e6,
            whole: true,
          },
          usual: 0,
        }),
        heightM: number({
          ...{ label: 'Antenna height', reason: 'Vertical, from the mark.', unit: 'm', min: -10, max: 100, usual: 0 },
        }),
      },
    }),
  },
  refuse: (_s, chosen) =>
    chosen.navigation || chosen.orbits ? undefined : 'Neither navigation nor precise orbits were chosen.',
  command: {
    name: 'network',
    what: 'coordinates of a base or of marks from static recordings',
    system: { flag: 'crs', must: true, reason: 'System of the marks, e.g. EPSG:25832+5773.' },
    files: { out: { file: 'marks', must: true, reason: 'Points found, as marks, CSV.' } },
    more: {
      hold: values({
        ...{ label: 'Held points', flag: 'hold', least: 1, most: 1000 },
        of: text({ label: 'Name of a held point', reason: '', least: 1, most: 60, usual: null }),
        reason: 'Points that keep the coordinates of their headers within their deviations.',
      }),
      holdSdM: number({
        ...{ label: 'SD of held points in plan', flag: 'hold-sd', unit: 'm', min: 0, max: 10, usual: 0.002 },
        reason: '1 SD.',
      }),
      holdHeightSdM: number({
        ...{ label: 'SD of held points in height', flag: 'hold-height-sd', unit: 'm', min: 0, max: 10, usual: 0.004 },
        reason: '1 SD.',
      }),
    },
    meant: (given, more) => ({
      ...given,
      held: ((more.hold as string[] | undefined) ?? []).map((name) => ({
        ...{ name, sdPlanM: more.holdSdM, sdHeightM: more.holdHeightSdM },
      })),
    }),
    example: `npx longheron network --recordings brn1.rnx,fjr1.rnx,hlm2.rnx --nav nav.rnx --antex antennas.atx \\
           --hold FJR1,HLM2 --crs EPSG:25832+5773 --out base.csv`,
  },
});
