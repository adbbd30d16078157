import { fileKind, type FileContent } from '../declare/kind';

export interface Content extends FileContent {
  /** System that a file which names none was imported in, as text; without it that of the project. */
  crs?: string;
}

export default fileKind<Content>('Areas and lines', 'areas and lines');
