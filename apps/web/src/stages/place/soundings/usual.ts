import { factsOf, type DatasetDto, type DatasetOf } from '@longheron/contract/api';

/** What a project holds that lines of a sonar may be reduced with. */
export interface Holdings {
  sonar: ReadonlyArray<DatasetOf<'sonar'>>;
  mountings: ReadonlyArray<DatasetOf<'mounting'>>;
  trajectories: ReadonlyArray<DatasetOf<'trajectory'>>;
  casts: ReadonlyArray<DatasetOf<'casts'>>;
}

/** Whether a dataset covers a span of GPS seconds. */
export const covers = (d: DatasetDto, from: number, to: number): boolean => {
  const facts = factsOf(d);
  return !!facts && facts.startGps !== null && facts.endGps !== null && facts.startGps <= from && facts.endGps >= to;
};

/** Begin and end of recordings, GPS seconds; undefined where none says. */
export function spanOf(of: readonly DatasetDto[]): [number, number] | undefined {
  const ends = of.flatMap((d) => {
    const f = factsOf(d);
    return f && f.startGps !== null && f.endGps !== null ? [[f.startGps, f.endGps]] : [];
  });
  return ends.length ? [Math.min(...ends.map((e) => e[0])), Math.max(...ends.map((e) => e[1]))] : undefined;
}

/** What the form begins with: all lines, the latest mounting that has a sonar, a trajectory that covers them, the casts. */
export function usualInputs({ sonar, mountings, trajectories, casts }: Holdings): { [role: string]: number[] } {
  const span = spanOf(sonar);
  const mounting = [...mountings].reverse().find((d) => 'sonar' in d.revision.content.mounting.sensors);
  const trajectory = span && [...trajectories].reverse().find((d) => covers(d, span[0], span[1]));
  const ids = (of: ReadonlyArray<{ id: number } | undefined>) => of.flatMap((d) => (d ? [d.id] : []));
  const inOrder = [...sonar].sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  return {
    sonar: ids(inOrder),
    mounting: ids([mounting]),
    trajectory: ids([trajectory]),
    casts: ids([casts.at(-1)]),
  };
}
