import { readFile } from 'node:fs/promises';
import { suspectFoot, suspectMarks } from '@longheron/core/accuracy';
import { parseSystem } from '../crs';
import { type Inspect } from '../format/facts';
import { readMarks } from './read';

/** Facts and findings of marks, with the marks already known beside them. */
export const inspectMarks: Inspect = async ({ path, name, known }, out) => {
  const read = readMarks(await readFile(path), name);
  out.count = read.marks.length;
  const column = (f: (m: (typeof read.marks)[number]) => number) => read.marks.map(f);
  const values = [column((m) => m.eastingM), column((m) => m.northingM), column((m) => m.heightM)];
  out.extent = {
    min: values.map((v) => Math.min(...v)) as [number, number, number],
    max: values.map((v) => Math.max(...v)) as [number, number, number],
    crs: read.crs ?? null,
  };
  const roles = ['control', 'check', 'unused']
    .map((role) => [role, read.marks.filter((m) => m.role === role).length] as const)
    .filter(([, n]) => n > 0);
  out.details.push(['Marks', String(read.marks.length)], ['Roles', roles.map(([r, n]) => `${n} ${r}`).join(', ')]);
  if (!read.crs)
    out.findings.push({
      code: 'marks-crs',
      severity: 'warning',
      file: name,
      text: 'The marks name no coordinate system.',
      effect: "They are taken to be in the project's system.",
      remedy: 'Add "# crs: EPSG:25832+5773" or confirm on import.',
    });
  const metresPerUnit = read.crs ? ownUnit(read.crs) : known?.metresPerUnit;
  const foot = metresPerUnit === undefined ? undefined : suspectFoot(read.marks, read.unit, metresPerUnit, name);
  out.findings.push(...suspectMarks(read.marks, name, known), ...(foot ? [foot] : []));
};

/** Unit of the system that a list names; undefined when it cannot be told. */
function ownUnit(crs: string): number | undefined {
  try {
    return parseSystem(crs).definition.metresPerUnit;
  } catch {
    return undefined;
  }
}
