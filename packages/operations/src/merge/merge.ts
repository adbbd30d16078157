import { Problem, type Watch } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { labelNamed, LasFile, writeMerged, type Merged, type MergedStrips } from '@longheron/formats/las';

/**
 * Writes several clouds as one; all must be in one system.
 * @param names as people know the files, for what is said.
 */
export async function mergeClouds(
  inputs: Array<{ path: string; name: string }>,
  outPath: string,
  created: Date,
  strips: MergedStrips = 'by time',
  watch?: Watch,
): Promise<Merged & { points: number[] }> {
  const files: LasFile[] = [];
  try {
    for (const { path, name } of inputs) {
      const file = await LasFile.openPath(path);
      file.source.name = name;
      files.push(file);
    }
    const labels = files.map((f) => labelNamed(f.header));
    const other = labels.findIndex((l) => l !== labels[0]);
    if (other > 0)
      throw new Problem(
        `"${inputs[other].name}" is in ${labels[other] || 'no named system'}, "${inputs[0].name}" in ${labels[0] || 'no named system'}.`,
        {
          code: 'merge-systems',
          file: inputs[other].name,
          place: 'coordinate system',
          remedy: 'Bring them into one system first.',
        },
      );
    const system = labels[0] ? parseSystem(labels[0]).definition : undefined;
    const made = await writeMerged(files, outPath, system, created, strips, watch);
    return { ...made, points: files.map((f) => f.header.pointCount) };
  } finally {
    await Promise.all(files.map((f) => f.close()));
  }
}
