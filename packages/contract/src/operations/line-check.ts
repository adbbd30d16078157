import { number, operation } from '../declare';

export default operation({
  name: 'line-check',
  title: 'Compare the lines',
  past: 'compared',
  stage: 'prove',
  version: 1,
  result: 'line-check',
  resultName: 'Comparison of lines',
  roles: { cloud: { kind: 'point-cloud', label: 'Soundings', flag: 'cloud' } },
  settings: {
    cellM: number({
      label: 'Cell',
      flag: 'cell',
      unit: 'm',
      min: 0.1,
      max: 100,
      step: 0.25,
      digits: 2,
      usual: null,
      reason:
        'Lines are compared where they share cells. Left empty: four times as wide as soundings lie apart, a metre at least.',
    }),
    datumM: number({
      label: 'Datum of depths',
      flag: 'datum',
      unit: 'm',
      min: -500,
      max: 500,
      step: 0.1,
      digits: 2,
      usual: 0,
      reason: 'Height from which depths count, for the orders of survey.',
    }),
  },
  command: {
    name: 'line-check',
    what: 'lines of soundings against each other, by beam angle, and the orders of survey that they keep',
    system: { flag: 'crs', reason: 'System of a file that names none.' },
    files: { csv: { file: 'table', aside: true, reason: 'Pairs of lines as a table.' } },
    example: 'npx longheron line-check --cloud soundings.laz --report lines.json',
  },
  chapter: 32,
});
