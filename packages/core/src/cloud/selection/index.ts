/** What a person selects of a cloud: shapes drawn in any view, and attributes. */
export * from './filter';
export * from './types';
export { INSIDE, MIXED, OUTSIDE, PolygonMask, type BoxState } from './polygonMask';
export { Selector, type RowRange, type RowsOf, type SelectionSources } from './selector';
export { parseAct, parseSelection } from './parse';
