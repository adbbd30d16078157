import { CHAPTERS, complete, faultOf, type Declaration, type Given } from '@longheron/contract/declare';
import { type DatasetKind } from '@longheron/contract/kinds';
import { operationOf } from '@longheron/contract/operations';
import { Problem } from '@longheron/core/shared';
import { type Context, type Handed } from '@longheron/operations/computation';
import { Dataset, Project, Revision, Run, type RevisionInput } from '../database/models';
import {
  addRevision,
  current,
  hashFor,
  marksUsedFor,
  referenceOf,
  replaceNotices,
  systemText,
  type Held,
  toleranceOf,
} from '../trail';
import { type JobQueue } from './queue';
import { type OperationOutcome } from './work';

/** Inputs of a run as a request names them: datasets by role. */
export type InputIds = { readonly [role: string]: number | readonly number[] };

/** What features know of a project that computations may ask for. */
export interface Surroundings {
  classNames(projectId: number): Promise<readonly string[]>;
  account(project: Project, inputs: Inputs, before: Held | undefined): Promise<NonNullable<Context['account']>>;
}

export type Inputs = { [role: string]: Held[] };

/** Starts operations of the trail, and keeps what they make. */
export class Operations {
  constructor(
    private readonly queue: JobQueue,
    private readonly surroundings: Surroundings,
  ) {}

  /** Starts an operation; returns at once with the run. `done` settles when it ended. */
  async start(
    projectId: number,
    name: string,
    inputIds: InputIds,
    settings: Given,
    outputDataset?: number,
  ): Promise<{ run: Run; done: Promise<Dataset | undefined> }> {
    const declaration = operationOf(name);
    const project = await Project.findByPk(projectId);
    if (!declaration || !project)
      throw new Problem('There is no such operation or project.', { code: 'operation', remedy: 'Reload the page.' });
    const asked = renamed(declaration, inputIds);
    const fault = faultOf(declaration, settings, chosenOf(asked));
    if (fault)
      throw new Problem(fault.message, {
        code: 'setting',
        place: fault.field,
        remedy: 'Choose a value within the range.',
      });
    const inputs = await inputsOf(declaration, asked, projectId);
    refuseUnready(declaration, inputs);
    const context = await this.contextOf(declaration, project, inputs, outputDataset);
    const handed = await handedOf(declaration, inputs);
    const kept = await keptInputs(declaration, project, inputs, settings);
    if (outputDataset) await this.queue.refuseWhenBusy(projectId, outputDataset);
    const all = { ...complete(declaration.settings, plain(declaration, settings)), ...plain(declaration, settings) };
    const run = await this.queue.enter(
      projectId,
      name,
      declaration.version,
      declaration.title,
      { ...all, outputDataset },
      asked,
    );
    const work = { operation: name, inputs: handed, settings, context };
    const done = this.queue
      .perform(run, (signal, hear, pool) => pool.compute(work, signal, hear))
      .then(
        (outcome) => this.commit(run, declaration, kept, outcome, outputDataset),
        () => undefined,
      );
    return { run, done };
  }

  private async contextOf(
    declaration: Declaration,
    project: Project,
    inputs: Inputs,
    outputDataset: number | undefined,
  ): Promise<Context> {
    const needs = new Set(declaration.needs);
    const id = Number(project.id);
    const before = needs.has('account') && outputDataset ? await current(outputDataset) : undefined;
    return {
      crs:
        !project.reference && (declaration.systemless ?? declaration.result === 'system')
          ? undefined
          : systemText(project),
      toleranceM: toleranceOf(project, declaration.tolerance),
      projectName: project.name,
      usedMarks: needs.has('usedMarks') ? await marksUsedFor(inputs.cloud[0].revision) : {},
      classNames: needs.has('classNames') ? await this.surroundings.classNames(id) : [],
      account: needs.has('account') ? await this.surroundings.account(project, inputs, before) : undefined,
    };
  }

  private async commit(
    run: Run,
    declaration: Declaration,
    inputs: RevisionInput[],
    outcome: OperationOutcome,
    outputDataset?: number,
  ): Promise<Dataset> {
    const { projectId } = run;
    const dataset = await Run.sequelize!.transaction(async (transaction) => {
      const target =
        (outputDataset && (await Dataset.findByPk(outputDataset, { transaction }))) ||
        (await Dataset.create(
          {
            projectId,
            kind: declaration.result,
            stage: declaration.stage,
            createdAt: new Date(),
            name: await freeName(projectId, outcome.name ?? declaration.resultName),
          },
          { transaction },
        ));
      await addRevision(
        target,
        {
          contentHash: outcome.hash,
          runId: run.id,
          madeBy: run.operation,
          version: declaration.version,
          inputs,
          content: outcome.content,
        },
        transaction,
      );
      await replaceNotices(projectId, Number(target.id), outcome.notices, transaction);
      return target;
    });
    await this.queue.succeed(run, [Number(dataset.id)]);
    return dataset;
  }
}

/** How many datasets each role was given. */
const chosenOf = (ids: InputIds): { [role: string]: number } =>
  Object.fromEntries(Object.entries(ids).map(([role, given]) => [role, ([] as number[]).concat(given).length]));

/** Settings as they were given, without what says nothing. */
function plain(declaration: Declaration, settings: Given): Given {
  return Object.fromEntries(
    Object.entries(settings).filter(([k, v]) => v !== null && v !== undefined && k in declaration.settings),
  );
}

/** Inputs under the roles of today. */
function renamed({ onceCalled = {} }: Declaration, ids: InputIds): { [role: string]: number | number[] } {
  const out: { [role: string]: number | number[] } = {};
  for (const [role, given] of Object.entries(ids)) {
    const list = ([] as number[]).concat(given);
    const now = onceCalled[role];
    if (now) out[now] = ([] as number[]).concat(out[now] ?? [], list);
    else out[role] = typeof given === 'number' ? given : list;
  }
  return out;
}

async function inputsOf(declaration: Declaration, ids: InputIds, projectId: number): Promise<Inputs> {
  const out: Inputs = {};
  for (const [role, { label, kind, none }] of Object.entries(declaration.roles)) {
    const list = ([] as number[]).concat(ids[role] ?? []);
    if (list.length === 0 && none === undefined)
      throw new Problem(`${label}: nothing was chosen.`, {
        code: 'input',
        place: role,
        remedy: 'Choose it in the sheet.',
      });
    out[role] = await Promise.all(list.map((id) => current(Number(id))));
    for (const { dataset, revision } of out[role]) {
      const fits = kind === CHAPTERS ? operationMade(revision.madeBy, dataset.kind)?.chapter : dataset.kind === kind;
      if (Number(dataset.projectId) !== projectId || !fits)
        throw new Problem(`"${dataset.name}" cannot serve as ${label.toLowerCase()}.`, {
          code: 'input',
          place: role,
          remedy: 'Choose another dataset.',
        });
    }
  }
  return out;
}

/** The operation that made a result; of one that was edited since, the one that makes such results. */
function operationMade(madeBy: string, kind: DatasetKind): Declaration | undefined {
  return operationOf(madeBy) ?? operationOf(kind);
}

/** Clouds whose store is still being made cannot be worked with. */
function refuseUnready(declaration: Declaration, inputs: Inputs): void {
  for (const role of Object.keys(declaration.roles))
    for (const { dataset, revision } of inputs[role])
      if (dataset.kind === 'point-cloud' && !('las' in revision.content && revision.content.las))
        throw new Problem(`"${dataset.name}" is still being prepared.`, {
          code: 'cloud-not-ready',
          remedy: 'Wait until its job has ended, or run that job again.',
        });
}

/** Inputs as plain data for a worker. */
async function handedOf(declaration: Declaration, inputs: Inputs): Promise<{ [role: string]: Handed[] }> {
  const out: { [role: string]: Handed[] } = {};
  for (const [role, list] of Object.entries(inputs)) {
    out[role] = [];
    for (const { dataset, revision } of list) {
      const { kind, name } = dataset;
      const part = declaration.roles[role].kind === CHAPTERS ? operationMade(revision.madeBy, kind) : undefined;
      out[role].push({
        kind,
        name,
        content: revision.content,
        ...(part?.chapter ? { operation: part.name, cloud: await cloudLabel(revision.inputs) } : {}),
      });
    }
  }
  return out;
}

/** The cloud that a proof speaks of, with its revision. */
export async function cloudLabel(inputs: RevisionInput[]): Promise<string> {
  const input = inputs.find((i) => i.role === 'cloud');
  const revision = input && (await Revision.findByPk(input.revisionId));
  const dataset = input && (await Dataset.findByPk(input.datasetId));
  return revision && dataset ? `${dataset.name}, revision ${revision.number}` : 'a discarded revision';
}

/** Inputs as the trail keeps them: with the reference line, under the roles that count, by what they are compared by. */
async function keptInputs(
  declaration: Declaration,
  project: Project,
  inputs: Inputs,
  settings: Given,
): Promise<RevisionInput[]> {
  const out: RevisionInput[] = [];
  const keep = (role: string, { dataset, revision }: Held) =>
    out.push({
      role,
      datasetId: Number(dataset.id),
      revisionId: Number(revision.id),
      contentHash: hashFor(role, revision, dataset.kind),
    });
  const later: Array<[string, Held]> = [];
  for (const [role, list] of Object.entries(inputs)) {
    const as = declaration.keptAs ? declaration.keptAs(role, settings) : role;
    if (as === null) continue;
    for (const held of list)
      if (as === role) keep(role, held);
      else later.push([as, held]);
  }
  for (const [role, held] of later) keep(role, held);
  // the reference line is an input of everything that is made in its system; trajectories are geographic
  const line = declaration.referenceLine === 'none' ? undefined : await referenceOf(project);
  if (line) keep(declaration.referenceLine === 'whole' ? 'reference-line' : 'reference', line);
  return out;
}

/** The name, or the name with the first number that is free. */
async function freeName(projectId: number, name: string): Promise<string> {
  const taken = new Set((await Dataset.findAll({ where: { projectId }, attributes: ['name'] })).map((d) => d.name));
  for (let n = 1; ; n++) {
    const wanted = n === 1 ? name : `${name} ${n}`;
    if (!taken.has(wanted)) return wanted;
  }
}
