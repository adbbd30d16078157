import { about } from '../format/about';

export default about({
  name: 'LAS 1.2 to 1.4, LAZ',
  kind: 'point-cloud',
  holds: 'points of a cloud with all attributes',
  extensions: ['las', 'laz'],
  points: {
    las: { label: 'LAS 1.4', extension: 'las', carries: 'every attribute', pieces: true },
    laz: { label: 'LAZ, compressed', extension: 'laz', carries: 'every attribute', pieces: true },
  },
});
