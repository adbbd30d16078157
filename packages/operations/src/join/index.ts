import declaration from '@longheron/contract/operations/join';
import { computation, placed } from '../computation/types';
import { fileFacts } from '@longheron/formats/format';
import { trajectoryContent } from '../shared/preview';
import { crsFrom, namesOf } from '../shared/words';
import { joinSessions, type JoinResult } from './join';

export { joinSessions } from './join';

/** Several sessions as one trajectory. */
export default computation(declaration, async ({ parts }, _settings, context, out) => {
  let made!: JoinResult;
  const csv = await out.file('trajectory', 'trajectory', async (path) => {
    made = await joinSessions(
      parts.map((p) => p.path),
      path,
      namesOf(parts),
    );
  });
  const { report, trajectory, joined, overlaps } = made;
  const name = `${parts.length} sessions as one`;
  const kept = out.keeps
    ? await trajectoryContent(out.store, csv.sha256, name, crsFrom(context))
    : { object: csv.sha256, bytes: csv.bytes, facts: fileFacts(name, csv.bytes, 'trajectory') };
  return {
    name,
    content: { ...kept, point: trajectory.point, joined, overlaps },
    hash: csv.sha256,
    report: { ...report, notices: placed(report.notices) },
    log: [`${trajectory.sow.length} epochs of ${parts.length} sessions.`],
  };
});
