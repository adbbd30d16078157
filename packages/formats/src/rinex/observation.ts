import { type Observations, type System } from '@longheron/core/gnss';
import { type Notice } from '@longheron/core/shared';
import { field, gpsOfDate, label, Lines, rinexHead, rinexBytes, type TimeSystem } from './lines';

/** Names of RINEX 2 as RINEX 3 calls them. */
const OLD_NAMES: Record<string, string> = {
  C1: 'C1C',
  P1: 'C1W',
  L1: 'L1C',
  D1: 'D1C',
  S1: 'S1C',
  C2: 'C2X',
  P2: 'C2W',
  L2: 'L2W',
  D2: 'D2W',
  S2: 'S2W',
  C5: 'C5X',
  L5: 'L5X',
  D5: 'D5X',
  S5: 'S5X',
  C7: 'C7X',
  L7: 'L7X',
  D7: 'D7X',
  S7: 'S7X',
  C6: 'C6X',
  L6: 'L6X',
  C8: 'C8X',
  L8: 'L8X',
  D6: 'D6X',
  S6: 'S6X',
  D8: 'D8X',
  S8: 'S8X',
};

interface Building {
  version: number;
  timeSystem: TimeSystem;
  /** System of satellites whose letter is blank, RINEX 2. */
  blank: string;
  /** Names in a row of RINEX 2. */
  old: string[];
  out: Observations;
  notices: Notice[];
  sow: number[];
  start: number[];
  satellite: number[];
  values: number[];
  lost: number[];
  index: Map<string, number>;
}

/** Reads observations of RINEX 2 and 3. What a damaged end leaves whole is kept, with a notice. */
export function readObservations(bytes: Uint8Array, file: string): { observations: Observations; notices: Notice[] } {
  const lines = new Lines(rinexBytes(bytes, file), file);
  const head = rinexHead(lines.next(), file);
  if (head.kind !== 'O')
    throw lines.problem(
      `The file holds "${head.kind}" data, not observations.`,
      'rinex-kind',
      'Choose the observation file.',
    );
  const b = begin(head.version, head.system);
  readHeader(lines, b);
  const width = Math.max(...Object.values(b.out.types).map((t) => t.length), b.old.length);
  if (!(width > 0))
    throw lines.problem(
      'The header names no observations.',
      'rinex-types',
      'The header is damaged: copy the file again from its origin.',
    );
  b.out.width = width;
  const read = head.version >= 3 ? modernEpoch : oldEpoch;
  for (;;) {
    const rows = b.satellite.length;
    const epochs = b.sow.length;
    const ended = read(lines, b);
    if (ended === 'cut') {
      b.satellite.length = rows;
      b.values.length = b.lost.length = rows * width;
      b.sow.length = b.start.length = epochs;
      b.notices.push({
        code: 'rinex-cut',
        severity: 'warning',
        file,
        place: `line ${lines.number}`,
        text: 'The file ends within an epoch.',
        effect: 'What came before is used.',
        remedy: 'Copy it again from its origin.',
      });
    }
    if (ended) break;
  }
  if (b.sow.length === 0) throw lines.problem('The file holds no epoch.', 'rinex-empty', 'Choose another file.');
  return { observations: finish(b), notices: b.notices };
}

function begin(version: number, system: string): Building {
  const out: Observations = {
    marker: '',
    receiver: '',
    antenna: '',
    antennaDeltaM: [0, 0, 0],
    types: {},
    week: -1,
    width: 0,
    sow: new Float64Array(0),
    start: new Uint32Array(0),
    satellite: new Uint16Array(0),
    satellites: [],
    values: new Float64Array(0),
    lost: new Uint8Array(0),
  };
  const blank = 'GRSECJ'.includes(system) && system.trim() ? system : 'G';
  return {
    version,
    timeSystem: 'GPS',
    blank,
    old: [],
    out,
    notices: [],
    index: new Map(),
    sow: [],
    start: [],
    satellite: [],
    values: [],
    lost: [],
  };
}

function readHeader(lines: Lines, b: Building): void {
  for (let line = lines.next(); ; line = lines.next()) {
    if (line === undefined)
      throw lines.problem(
        'The header has no end.',
        'rinex-cut',
        'The file was cut off: copy it again from its origin.',
      );
    if (label(line) === 'END OF HEADER') return;
    headerLine(line, lines, b);
  }
}

function headerLine(line: string, lines: Lines, b: Building): void {
  const { out } = b;
  const name = label(line);
  if (name === 'MARKER NAME') out.marker = line.slice(0, 60).trim();
  else if (name === 'OBSERVER / AGENCY')
    out.observer = [line.slice(0, 20), line.slice(20, 60)]
      .map((t) => t.trim())
      .filter(Boolean)
      .join(', ');
  else if (name === 'REC # / TYPE / VERS') out.receiver = line.slice(20, 40).trim();
  else if (name === 'ANT # / TYPE') out.antenna = line.slice(20, 40).trim();
  else if (name === 'APPROX POSITION XYZ') {
    const xyz = [0, 1, 2].map((k) => field(line, 14 * k, 14 * k + 14)) as [number, number, number];
    // one away from the Earth's surface is none
    if (Math.abs(Math.hypot(...xyz) - 6.37e6) < 2e5) out.approximateM = xyz;
  } else if (name === 'ANTENNA: DELTA H/E/N')
    out.antennaDeltaM = [0, 1, 2].map((k) => field(line, 14 * k, 14 * k + 14) || 0) as [number, number, number];
  else if (name === 'TIME OF FIRST OBS') {
    const said = line.slice(48, 51).trim();
    if (said) b.timeSystem = said as TimeSystem;
    else if (b.blank === 'R') b.timeSystem = 'GLO';
  } else if (name === 'SYS / # / OBS TYPES') {
    const system = line[0] as System;
    const count = Number(line.slice(3, 6));
    const types: string[] = [];
    for (let row: string | undefined = line; row !== undefined; row = lines.next()) {
      types.push(...row.slice(7, 60).trim().split(/\s+/).filter(Boolean));
      if (types.length >= count) break;
    }
    out.types[system] = types;
  } else if (name === '# / TYPES OF OBSERV') {
    const count = Number(line.slice(0, 6));
    const types: string[] = [];
    for (let row: string | undefined = line; row !== undefined; row = lines.next()) {
      types.push(...row.slice(6, 60).trim().split(/\s+/).filter(Boolean));
      if (types.length >= count) break;
    }
    b.old = types.map((t) => OLD_NAMES[t] ?? `${t}X`);
    for (const s of 'GRSEJ') out.types[s as System] = b.old;
  }
}

type Ended = 'end' | 'cut' | undefined;

/** Reads flag and number of records; special records are passed over, changes of the header taken in. */
function event(flag: number, count: number, lines: Lines, b: Building): Ended {
  b.notices.push({
    code: 'rinex-event',
    severity: 'info',
    file: lines.file,
    place: `line ${lines.number}`,
    text: `Event record ${flag}: ${['', '', 'antenna starts moving', 'new site occupation', 'header information', 'external event', 'cycle slip records'][flag] ?? 'unknown'}.`,
  });
  for (let k = 0; k < count; k++) {
    const line = lines.next();
    if (line === undefined) return 'cut';
    if (flag >= 2 && flag <= 4) headerLine(line, lines, b);
  }
  return undefined;
}

function open(b: Building, lines: Lines, date: number[]): void {
  if (date.some((v) => !Number.isFinite(v)) || date[1] < 1 || date[1] > 12 || date[2] < 1 || date[2] > 31)
    throw lines.problem(
      'An epoch has no date that can be read.',
      'rinex-epoch',
      'The file is damaged there: copy it again.',
    );
  const { week, sow } = gpsOfDate(b.timeSystem, date[0], date[1], date[2], date[3], date[4], date[5]);
  if (b.out.week < 0) b.out.week = week;
  const time = (week - b.out.week) * 604800 + sow;
  const last = b.sow[b.sow.length - 1];
  if (time <= last)
    throw lines.problem(
      `Time goes back from ${last} to ${time} s of week.`,
      'rinex-time',
      'Two files may have been joined: give them one by one.',
    );
  b.sow.push(time);
  b.start.push(b.satellite.length);
}

function satelliteIndex(b: Building, name: string): number {
  let k = b.index.get(name);
  if (k === undefined) {
    k = b.out.satellites.length;
    b.index.set(name, k);
    b.out.satellites.push(name);
  }
  return k;
}

/** Takes a value and its loss-of-lock indicator from 16 columns. Zero stands for missing. */
function take(line: string, at: number, restart: boolean, b: Building): void {
  const value = at < line.length ? field(line, at, at + 14) : Number.NaN;
  b.values.push(value === 0 ? Number.NaN : value);
  const lli = line.charCodeAt(at + 14) - 48;
  b.lost.push((lli >= 0 && lli < 8 ? lli : 0) | (restart ? 1 : 0));
}

function pad(b: Building, taken: number): void {
  for (let k = taken; k < b.out.width; k++) {
    b.values.push(Number.NaN);
    b.lost.push(0);
  }
}

function modernEpoch(lines: Lines, b: Building): Ended {
  const line = lines.next();
  if (line === undefined) return 'end';
  if (line.trim() === '') return undefined;
  if (line[0] !== '>')
    throw lines.problem(
      'An epoch does not begin with ">".',
      'rinex-epoch',
      'The file is damaged there: copy it again.',
    );
  const flag = Number(line.slice(31, 32));
  const count = Number(line.slice(32, 35));
  if (!(count >= 0)) return 'cut';
  if (flag > 1) return event(flag, count, lines, b);
  open(b, lines, line.slice(2, 29).trim().split(/\s+/).map(Number));
  for (let k = 0; k < count; k++) {
    const row = lines.next();
    if (row === undefined) return 'cut';
    const types = b.out.types[row[0] as System];
    if (!types) continue;
    b.satellite.push(satelliteIndex(b, `${row[0]}${row.slice(1, 3).replace(' ', '0')}`));
    for (let t = 0; t < types.length; t++) take(row, 3 + 16 * t, flag === 1, b);
    pad(b, types.length);
  }
  return undefined;
}

function oldEpoch(lines: Lines, b: Building): Ended {
  const line = lines.next();
  if (line === undefined) return 'end';
  if (line.trim() === '') return undefined;
  const flag = Number(line.slice(28, 29));
  const count = Number(line.slice(29, 32));
  if (!(count >= 0)) return 'cut';
  if (flag > 1) return event(flag, count, lines, b);
  open(b, lines, line.slice(0, 26).trim().split(/\s+/).map(Number));
  const names: string[] = [];
  for (let list = line; ;) {
    for (let k = 0; k < 12 && names.length < count; k++) {
      const name = list.slice(32 + 3 * k, 35 + 3 * k).padEnd(3);
      names.push(`${name[0] === ' ' ? b.blank : name[0]}${name.slice(1).replace(' ', '0')}`);
    }
    if (names.length >= count) break;
    const next = lines.next();
    if (next === undefined) return 'cut';
    list = next;
  }
  for (const name of names) {
    b.satellite.push(satelliteIndex(b, name));
    for (let t = 0; t < b.old.length; t += 5) {
      const row = lines.next();
      if (row === undefined) return 'cut';
      for (let k = t; k < Math.min(t + 5, b.old.length); k++) take(row, 16 * (k - t), flag === 1, b);
    }
    pad(b, b.old.length);
  }
  return undefined;
}

function finish(b: Building): Observations {
  const { out } = b;
  out.sow = Float64Array.from(b.sow);
  out.start = Uint32Array.from([...b.start, b.satellite.length]);
  out.satellite = Uint16Array.from(b.satellite);
  out.values = Float64Array.from(b.values);
  out.lost = Uint8Array.from(b.lost);
  return out;
}
