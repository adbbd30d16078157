import { describe, expect, it } from 'vitest';
import { stageStates } from '.';

const d = (
  id: number,
  kind: 'trajectory' | 'marks' | 'surface',
  stage: 'gather' | 'position' | 'clean',
  late = false,
) => ({
  id,
  kind,
  stage,
  outOfDate: late,
});
const states = (...given: Parameters<typeof stageStates>) =>
  Object.fromEntries(stageStates(...given).map((s) => [s.stage, s.state]));

describe('how far a project is', () => {
  it('nothing, done, and a trajectory that came with the files', () => {
    expect(new Set(Object.values(states([], [], [])))).toEqual(new Set(['nothing yet']));
    const files = [d(1, 'marks', 'gather'), d(2, 'trajectory', 'gather')];
    expect(states(files, [], [])).toMatchObject({ gather: 'done', position: 'given', place: 'nothing yet' });
    expect(states([...files, d(3, 'trajectory', 'position')], [], [])).toMatchObject({ position: 'done' });
  });
  it('work goes before what is out of date, and that before what needs attention', () => {
    const made = [d(1, 'surface', 'clean', true)];
    const notice = { datasetId: 1, state: 'open' as const, severity: 'warning' as const };
    expect(states(made, [], [notice]).clean).toBe('out of date');
    expect(states([d(1, 'surface', 'clean')], [], [notice]).clean).toBe('needs attention');
    expect(states([d(1, 'surface', 'clean')], [], [{ ...notice, state: 'accepted' }]).clean).toBe('done');
    expect(states([d(1, 'surface', 'clean')], [], [{ ...notice, severity: 'info' }]).clean).toBe('done');
    for (const operation of ['classify', 'recipe'])
      expect(states(made, [{ operation, status: 'queued' }], []).clean).toBe('in progress');
    expect(states(made, [{ operation: 'terrain', status: 'failed' }], []).clean).toBe('out of date');
    expect(states([], [{ operation: 'intake', status: 'running' }], []).gather).toBe('in progress');
  });
});
