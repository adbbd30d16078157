import { type KindDeclaration } from '../declare/kind';
import { KINDS, type Contents } from './index.generated';

export { KINDS, type Contents };
export { type Extent, type FileFacts } from './parts/facts';
export { type NetworkContent } from './parts/network';
export { type SiteContent, type SiteMark } from './parts/site';
export type { Drawing, FileContent, GridLayout, KindDeclaration, KindExport, SmallUnit } from '../declare/kind';

/** A kind of dataset; each is a file of this folder. */
export type DatasetKind = keyof Contents;

export const kindOf = <K extends DatasetKind>(name: K): KindDeclaration<Contents[K]> => KINDS[name];
export const isKind = (name: string): name is DatasetKind => name in KINDS;
/** Its name, for people. */
export const kindName = (name: string): string => (isKind(name) ? KINDS[name].name : name);
/** Its name within a sentence. */
export const kindWords = (name: string): string => kindName(name).replace(/^[A-Z](?![A-Z])/, (c) => c.toLowerCase());
