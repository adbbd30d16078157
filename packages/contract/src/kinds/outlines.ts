import { fileKind, type FileContent } from '../declare/kind';

export type Content = FileContent;
export default fileKind('Areas and lines', 'areas and lines');
