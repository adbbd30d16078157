import { fileKind, type FileContent } from '../declare/kind';

export type Content = FileContent;
export default fileKind('Sonar', 'pings');
