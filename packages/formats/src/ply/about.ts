import { about } from '../format/about';

export default about({
  name: 'PLY',
  kind: 'point-cloud',
  holds: 'points of a cloud',
  extensions: ['ply'],
  points: {
    ply: {
      label: 'PLY, binary',
      extension: 'ply',
      carries: 'coordinates about a shift, intensity, class, strip, colour and time',
    },
    'ply-text': {
      label: 'PLY, text',
      extension: 'ply',
      carries: 'coordinates, intensity, class, strip, colour and time',
    },
  },
  loses: 'echoes, flags, scan angle and further attributes; 8 of 16 bits of a colour',
});
