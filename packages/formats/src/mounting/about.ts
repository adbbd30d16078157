import { about } from '../format/about';

export default about({
  name: 'mounting, JSON',
  kind: 'mounting',
  holds: 'lever arms and angles of the sensors of a vehicle',
  extensions: ['json'],
  written: 'mountings',
});
