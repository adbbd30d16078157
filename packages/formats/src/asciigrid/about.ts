import { about } from '../format/about';

export default about({
  name: 'ASCII grid',
  holds: 'a grid of heights',
  extensions: ['asc'],
  written: 'grids of heights',
  loses: 'the coordinate system',
});
