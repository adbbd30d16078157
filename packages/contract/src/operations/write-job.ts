import { choice, flag, operation } from '../declare';

const without = (label: string, name: string) =>
  flag({
    label: `Without ${label}`,
    flag: `no-${name}`,
    usual: false,
    reason: 'The imported job keeps them.',
  });

export default operation({
  name: 'write-job',
  title: 'Write the job to hand on',
  past: 'written',
  stage: 'position',
  version: 1,
  result: 'terrestrial-job',
  resultName: 'Job to hand on',
  roles: {
    job: { kind: 'terrestrial-job', label: 'Job', flag: 'job' },
    adjusted: {
      kind: 'marks',
      label: 'Adjusted points',
      none: 'none: coordinates stay as they are',
      flag: 'points',
      reason: 'They take the place of the rough coordinates, with their deviations.',
    },
  },
  settings: {
    as: choice({
      label: 'As',
      flag: 'as',
      choices: { archive: 'one archive with scans and pictures (ZIP)', xml: 'LandXML alone' },
      usual: 'archive',
      reason: 'The archive lists each file with its size and hash, and opens elsewhere as it is.',
    }),
    noPoints: without('points', 'points'),
    noLines: without('lines', 'lines'),
    noAreas: without('areas', 'areas'),
    noSurfaces: without('surfaces', 'surfaces'),
    noObservations: without('set-ups and observations', 'observations'),
    noScans: without('scans', 'scans'),
    noPictures: without('pictures', 'pictures'),
  },
  command: {
    name: 'job',
    what: 'a total-station job to hand on: chosen kinds, adjusted points, scans and pictures',
    files: { out: { file: 'job', must: true, reason: 'LandXML, or an archive (ZIP).' } },
    example: `npx longheron job --job depot_quay.zip --points points.csv --out handed_on.zip`,
  },
});
