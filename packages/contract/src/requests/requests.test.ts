import { type ClassConstructor } from 'class-transformer';
import { describe, expect, it } from 'vitest';
import {
  AcceptNotice,
  AddMark,
  check,
  CreateProject,
  EditMark,
  FetchStation,
  GiveRoles,
  KeepLooks,
  KeepMeasured,
  MarkColumns,
  PickMark,
  ProjectLook,
  ReferenceLine,
  SavedView,
  StartRun,
  UpdateProject,
} from '.';

type Body = { [field: string]: unknown };
/** A body that is right, and what must not stand in its fields. */
const BODIES: Array<[ClassConstructor<object>, Body, { [field: string]: unknown[] }]> = [
  [CreateProject, { name: 'Site' }, { name: ['', 5, undefined, 'x'.repeat(121)] }],
  [UpdateProject, { toleranceM: 0.03 }, { toleranceM: [0, 11, '1'], name: ['', 'x'.repeat(121)], purpose: [1] }],
  [
    ReferenceLine,
    { horizontal: 25832, vertical: 0, unit: 'metre', time: 'gps', epoch: 2026.45 },
    { horizontal: [0, 1.5, '25832', undefined], vertical: [-1], unit: ['yard'], time: ['mine'], epoch: [1900, 'now'] },
  ],
  [StartRun, { operation: 'classify', inputs: { cloud: 1 } }, { operation: ['fly', 1], inputs: [1, 'cloud'] }],
  [AcceptNotice, { reason: 'seen on site' }, { reason: ['', undefined, 'x'.repeat(501)] }],
  [FetchStation, { code: 'FJR1' }, { code: ['fjr1', 'A', '../etc', ''] }],
  [EditMark, { name: 'C1', role: 'check' }, { name: ['', 1], role: ['lead'], leftOutReason: ['x'.repeat(301)] }],
  [GiveRoles, { roles: [{ name: 'C1', role: 'check' }], by: 'hand' }, { by: [''], roles: [[], 'C1'] }],
  [
    AddMark,
    { name: 'C9', role: 'control', eastingM: 467_000, northingM: 6_215_000, heightM: 3 },
    { name: [''], role: [''], eastingM: [1e9, 'x', null], northingM: [-3e7], heightM: [60_001, -12_001], sdHM: [-1] },
  ],
  [PickMark, { name: 'K5', dE: 0.1, dN: -0.1, sdM: 0.01 }, { dE: [6, 'x'], dN: [-6], sdM: [0, 2] }],
  [
    MarkColumns,
    {
      name: 0,
      easting: 1,
      northing: 2,
      height: 3,
      unit: 'metre',
      defaultRole: 'check',
      decimalComma: false,
    },
    { name: [-1, 'A'], easting: [0.5], unit: ['mile'], defaultRole: ['none'], decimalComma: ['no', 1] },
  ],
  [SavedView, { name: 'Pier', look: {} }, { name: ['  ', 'x'.repeat(61)], look: [1, 'height'] }],
  [ProjectLook, { look: { clip: true } }, { look: [undefined, 'x', 3] }],
  [
    KeepMeasured,
    { kind: 'distance', rows: [4, 9], name: 'Kerb' },
    { kind: ['volume'], rows: [[-1, 2], [1.5, 2], 'x'], radiusM: [0, 21], name: [' '] },
  ],
  [
    KeepLooks,
    { looks: [{ x: 1, y: -2, how: 'close', seconds: 3 }] },
    { looks: ['x', Array.from({ length: 20_001 }, () => ({ x: 1, y: 1, how: 'close', seconds: 1 }))] },
  ],
];

describe('bodies of requests', () => {
  it.each(BODIES)('%o takes what is right as it is', (type, body) => {
    const checked = check(type, body);
    expect(checked).toEqual({ value: expect.objectContaining(body) });
  });

  it.each(
    BODIES.flatMap(([type, body, wrong]) =>
      Object.entries(wrong).flatMap(([field, values]) => values.map((v) => [type, field, v, body] as const)),
    ),
  )('%o refuses a wrong %s (%o), and says which field it is', (type, field, value, body) => {
    const checked = check(type, { ...body, [field]: value });
    expect(checked).toMatchObject({
      field: expect.stringMatching(new RegExp(`^${field}`)),
      message: expect.any(String),
    });
  });

  it('name the row of a list that is wrong', () => {
    const roles = [
      { name: 'C1', role: 'check' },
      { name: 'C2', role: 'lead' },
    ];
    expect(check(GiveRoles, { roles, by: 'hand' })).toMatchObject({
      message: 'A role is control, check or unused.',
    });
    expect(check(KeepLooks, { looks: [{ x: 1, y: 1, how: 'far', seconds: 1 }] })).toHaveProperty('message');
  });

  it('are refused when they are none', () => {
    for (const body of [null, undefined, 'text', 5, []]) expect(check(CreateProject, body)).toHaveProperty('message');
  });
});
