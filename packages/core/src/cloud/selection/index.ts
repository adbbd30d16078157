/** What a person selects of a cloud: shapes drawn in any view, and attributes. */
export * from './types';
export { PolygonMask } from './polygonMask';
export { Selector } from './selector';
export { parseAct, parseSelection } from './parse';
