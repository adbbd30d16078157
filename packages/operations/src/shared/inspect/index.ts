import { type Notice } from '@longheron/core/shared';
import { keptFacts, type FileFacts, type KeptFacts } from '@longheron/formats/format';
import { inspectFile } from '@longheron/formats/registry';

/** Findings that need more than one file: returns outside the trajectory's time. */
export function crossFindings(all: FileFacts[]): Map<string, Notice[]> {
  const out = new Map<string, Notice[]>();
  const paths = all.filter((f) => f.kind === 'trajectory' && f.startGps !== null);
  if (paths.length === 0) return out;
  for (const f of all) {
    if (f.kind !== 'laser-returns' || f.startGps === null || f.endGps === null) continue;
    const best = paths
      .map((p) => Math.min(p.endGps!, f.endGps!) - Math.max(p.startGps!, f.startGps!))
      .reduce((a, b) => Math.max(a, b), -Infinity);
    const share = best / Math.max(1e-9, f.endGps - f.startGps);
    if (share < 0.999)
      out.set(f.name, [
        {
          code: 'time-outside',
          severity: best <= 0 ? 'error' : 'warning',
          file: f.name,
          text:
            best <= 0
              ? 'No trajectory covers the time of these returns.'
              : `Only ${(100 * share).toFixed(0)} % of the recording lies within a trajectory.`,
          effect: 'Returns outside a trajectory cannot be placed.',
          remedy: 'Bring in the trajectory of this session.',
        },
      ]);
  }
  return out;
}

/** Facts of a file as they are kept: without its path, and without what was found, which becomes notices. */
export async function factsOf(path: string, name: string): Promise<KeptFacts> {
  return keptFacts(await inspectFile(path, name));
}
