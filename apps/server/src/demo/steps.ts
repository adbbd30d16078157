import { type Given } from '@longheron/contract/declare';
import { parseSystem } from '@longheron/formats/crs';
import { BASE_PLACE } from '@longheron/site/gnss';
import { SITE_ORIGIN_E, SITE_ORIGIN_N, SITE_SYSTEM } from '@longheron/site/terrain';
import { Dataset } from '../database/models';

/** Runs an operation of the demo to its end; the number of its result. */
export type Step = (operation: string, inputs: Record<string, number | number[]>, settings?: Given) => Promise<number>;

export type NamedStep = (
  name: string,
  operation: string,
  inputs: Record<string, number | number[]>,
  settings?: Given,
) => Promise<number>;

/** Steps whose results have names of their own, by which they are found when they are there. */
export const namedStep =
  (id: number, step: Step): NamedStep =>
  async (name, operation, inputs, settings) => {
    const there = await Dataset.findOne({ where: { projectId: id, name } });
    if (there) return Number(there.id);
    const dataset = await step(operation, inputs, settings);
    await Dataset.update({ name }, { where: { id: dataset } });
    return dataset;
  };

/** The number of a dataset of the project. */
export async function byName(projectId: number, name: string): Promise<number> {
  return Number((await Dataset.findOne({ where: { projectId, name } }))!.id);
}

/** The marker of the site's base as its record has it, for the settings of the trajectory. */
export function surveyedBase(): { baseLatDeg: number; baseLonDeg: number; baseHEllM: number } {
  const geo = new Float64Array(3);
  const { x, y, heightM } = BASE_PLACE;
  parseSystem(SITE_SYSTEM).unproject(SITE_ORIGIN_E + x, SITE_ORIGIN_N + y, heightM, geo);
  const degrees = (rad: number) => Number(((rad * 180) / Math.PI).toFixed(9));
  return { baseLatDeg: degrees(geo[0]), baseLonDeg: degrees(geo[1]), baseHEllM: Number(geo[2].toFixed(4)) };
}
