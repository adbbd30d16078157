import { about } from '../format/about';

export default about({
  name: 'cameras, JSON',
  kind: 'cameras',
  holds: 'focal length, middle and distortion of cameras',
  extensions: ['json'],
});
