import { doubtsOf, groupPhotographs, type TakenPhoto } from '@longheron/core/photo';
import { type Notice } from '@longheron/core/shared';

const NAMED = 5;
const some = (names: readonly string[]) =>
  names.slice(0, NAMED).join(', ') + (names.length > NAMED ? ` and ${names.length - NAMED} more` : '');
const photographs = (n: number, one: string, several: string) =>
  n === 1 ? `1 photograph ${one}` : `${n} photographs ${several}`;

/** What is odd about photographs that came together, each with what it does and what to do. */
export function intakeFindings(list: readonly TakenPhoto[], file: string): Notice[] {
  const d = doubtsOf(list);
  const out: Notice[] = [];
  const add = (code: string, severity: Notice['severity'], text: string, effect: string, remedy: string) =>
    out.push({ code, severity, file, text, effect, remedy });
  if (d.twice.length)
    add(
      'photos-twice',
      'error',
      `${photographs(d.twice.length, 'has', 'have')} the same name as another: ${some(d.twice)}.`,
      'Only one of each name can be told from the other.',
      'Give each its own name, or bring the folders as sets of their own.',
    );
  if (d.copies.length)
    add(
      'photos-copies',
      'warning',
      `${photographs(d.copies.length, 'was', 'were')} taken at the same moment as another of the same size in bytes: ${some(d.copies.map(([a, b]) => `${b} as ${a}`))}.`,
      'A picture that is there twice ties to itself perfectly, and tells nothing.',
      'Leave the copies out.',
    );
  if (d.missing.length)
    add(
      'photos-missing',
      'info',
      `${d.missing.length} numbers of the row are not there: ${some(d.missing)}.`,
      'Where they were taken nothing may overlap.',
      'Look whether they are still on the card.',
    );
  if (d.small.length)
    add(
      'photos-previews',
      'warning',
      `${photographs(d.small.length, 'is', 'are')} far smaller than the others: ${some(d.small)}.`,
      'They are previews: they do not fit the camera.',
      'Bring the photographs themselves.',
    );
  if (d.samePlace)
    add(
      'photos-same-place',
      'warning',
      'All photographs say that they were taken at one and the same place.',
      'It is that of the start, or of a receiver without a fix.',
      'Take positions of events or a list, not those of the photographs.',
    );
  if (d.daysS.length > 1)
    add(
      'photos-days',
      'info',
      `Taken on ${d.daysS.length} days, by the cameras' clocks: ${some(d.daysS.map((s) => new Date(1000 * s).toISOString().slice(0, 10)))}.`,
      'Some may be of another flight.',
      'Look at their times; a clock that was never set says the same.',
    );
  if (d.turned.length)
    add(
      'photos-turned',
      'info',
      `${photographs(d.turned.length, 'is', 'are')} marked to be turned for looking at: ${some(d.turned)}.`,
      'Here they stand as the camera wrote them; picks and calibration go by that.',
      'Pick in photographs that were not turned by other programs.',
    );
  if (d.silent.length)
    add(
      'photos-silent',
      'info',
      `${photographs(d.silent.length, 'tells', 'tell')} neither camera nor time: ${some(d.silent)}.`,
      'They are paired with positions by their names alone.',
      'Bring them as the camera wrote them, if they are not.',
    );
  const groups = groupPhotographs(list.filter((p) => p.camera || p.serial));
  const bodies = new Map<string, Set<number | null>>();
  for (const g of groups)
    bodies.set(g.serial || g.camera, (bodies.get(g.serial || g.camera) ?? new Set()).add(g.focalMm));
  const zoomed = [...bodies].filter(([, focals]) => focals.size > 1);
  if (zoomed.length)
    add(
      'photos-zoomed',
      'warning',
      `${some(zoomed.map(([body, focals]) => `${body} with ${focals.size} focal lengths`))}.`,
      'One calibration does not fit several focal lengths.',
      'Give each its own camera in the list of cameras, by the names of its images.',
    );
  return out;
}
