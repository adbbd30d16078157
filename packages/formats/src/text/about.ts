import { about } from '../format/about';

export default about({
  name: 'text, a point to a line',
  kind: 'point-cloud',
  holds: 'points of a cloud',
  extensions: ['csv', 'txt', 'xyz', 'asc'],
  points: {
    csv: { label: 'CSV with named columns', extension: 'csv', carries: 'every attribute but flags and scan angle' },
  },
  loses: 'flags, scan angle, channel and user data',
});
