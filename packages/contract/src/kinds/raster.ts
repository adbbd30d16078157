import { type RasterDto } from '../api';
import { extentDrawing, kind, rawExport, type FileContent } from '../declare/kind';

export interface Content extends FileContent {
  raster?: RasterDto | null;
}

export default kind<Content>({
  name: 'Georeferenced image',
  counts: 'points',
  exports: rawExport,
  onMap: extentDrawing,
});
