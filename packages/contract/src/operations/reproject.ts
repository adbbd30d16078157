import { operation, text } from '../declare';

/** How a coordinate system is written. */
export const SYSTEM =
  /^(EPSG:\d{4,6}|[\w.-]{1,60}@[0-9a-f]{12})(~[\w.-]{1,60}@[0-9a-f]{12})?(\+(0|\d{4,6}|[\w.-]{1,60}@[0-9a-f]{12}))?$/;
export const SYSTEM_LIKE = 'EPSG:25832+5773, or EPSG:25832 with ellipsoidal heights';

export default operation({
  name: 'reproject',
  title: "Bring a cloud into the project's system",
  past: 'brought into the system',
  stage: 'clean',
  version: 1,
  result: 'point-cloud',
  resultName: "Cloud in the project's system",
  roles: { cloud: { kind: 'point-cloud', label: 'Cloud', flag: 'in', reason: 'LAS or LAZ.' } },
  settings: {
    from: text({
      label: 'It is in',
      flag: 'from',
      most: 260,
      pattern: SYSTEM,
      like: SYSTEM_LIKE,
      usual: null,
      reason: 'System of a file that names none.',
    }),
  },
  command: {
    name: 'reproject',
    what: 'a cloud in another coordinate system',
    system: {
      flag: 'to',
      must: true,
      reason: 'Projected system and heights, e.g. EPSG:25833+5773, or EPSG:25833 with ellipsoidal heights.',
    },
    files: { out: { file: 'cloud', must: true, reason: 'LAS; every attribute stays.' } },
    example: 'npx longheron reproject --in demo/out/cloud.las --to EPSG:25833+5773 --out demo/out/cloud_33.las',
  },
});
