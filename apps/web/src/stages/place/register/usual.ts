import { factsOf, type DatasetOf } from '@longheron/contract/api';

/** What a project holds that scans may be placed with. */
export interface Holdings {
  clouds: ReadonlyArray<DatasetOf<'point-cloud'>>;
  /** Targets seen in scans. */
  lists: ReadonlyArray<DatasetOf<'scan-targets'>>;
  imported: ReadonlyArray<DatasetOf<'marks'>>;
  /** Adjusted jobs, whose set-ups may name scans. */
  adjusted: ReadonlyArray<DatasetOf<'marks'>>;
}

const baseName = ({ name }: { name: string }) => name.replace(/\.[^.]+$/, '');

/**
 * What the form begins with: of the clouds that came without a system, being scans in their own frames, those that one list
 * of targets names together, or else those of one job; with the marks and stations that bear their names.
 */
export function usualInputs({ clouds, lists, imported, adjusted }: Holdings): { [role: string]: number[] } {
  const scans = clouds.filter((d) => !d.revision.content.crs && !factsOf(d)?.extent?.crs);
  const wordsOf = (d: DatasetOf<'scan-targets'>, what: string) =>
    factsOf(d)
      ?.details.find(([k]) => k === what)?.[1]
      .split(', ') ?? [];
  const inJob = (d: DatasetOf<'marks'>) => d.revision.content.traverse?.set_up_list.flatMap((s) => s.scans ?? []) ?? [];
  const among = (names: readonly string[]) => scans.filter((d) => names.includes(baseName(d)));
  const list = lists.find((l) => among(wordsOf(l, 'Scans')).length);
  const job = list ? undefined : adjusted.find((d) => among(inJob(d)).length);
  const own = list ? among(wordsOf(list, 'Scans')) : job ? among(inJob(job)) : scans;
  const withNames = (names: readonly string[]) =>
    imported.filter((d) => (d.revision.content.marks ?? []).some((m) => names.includes(m.name))).slice(0, 1);
  const ids = (of: ReadonlyArray<{ id: number }>) => of.map((d) => d.id);
  return {
    scans: ids([...own].sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }))),
    targets: ids(list ? [list] : []),
    control: ids(list ? withNames(wordsOf(list, 'Targets')) : []),
    stations: ids(job ? [job] : withNames(own.map(baseName))),
  };
}
