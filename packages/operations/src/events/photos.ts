import { matchPhotos, type EventPose, type Photo, type PhotoMatch } from '@longheron/core/trajectory';
import { type ReportBuilder } from '../shared/report';

/** Photographs beside the events they belong to. */
export interface PhotoTable {
  match: PhotoMatch;
  /** Row by row in time order: name of the photograph, place of its event, how far its time is off. */
  rows: Array<{ photo: string; event: number; gps: number; offS: number | null }>;
}

const MAX_NAMED = 5;
const some = (names: string[]) =>
  names.slice(0, MAX_NAMED).join(', ') + (names.length > MAX_NAMED ? ` and ${names.length - MAX_NAMED} more` : '');

/** Pairs photographs with events that have a position, and says what is left over on either side. */
export function pairPhotos(poses: EventPose[], photos: Photo[], file: string, builder: ReportBuilder): PhotoTable {
  const gps = poses.map((p) => p.event.week * 604800 + p.event.sow);
  const order = gps.map((_, k) => k).sort((a, b) => gps[a] - gps[b]);
  const found = matchPhotos(
    order.map((k) => gps[k]),
    photos,
  );
  const match: PhotoMatch = {
    ...found,
    pairs: found.pairs.map((p) => ({ ...p, event: order[p.event] })),
    eventsAlone: found.eventsAlone.map((k) => order[k]),
  };
  if (match.by === 'none')
    builder.notice({
      code: 'photos-count',
      severity: 'error',
      file,
      text: `${poses.length} events and ${photos.length} photographs cannot be paired: the counts differ and the photographs have no times.`,
      effect: 'No position is given to a photograph.',
      remedy: 'Leave stray events out, or give the photographs with their times.',
    });
  else {
    if (match.photosAlone.length)
      builder.notice({
        code: 'photos-alone',
        severity: 'warning',
        file,
        text: `${match.photosAlone.length} of ${photos.length} photographs have no event: ${some(match.photosAlone.map((k) => photos[k].name))}.`,
        effect: 'They have no position.',
        remedy: 'Look for a trajectory or an event list that covers them.',
      });
    if (match.eventsAlone.length)
      builder.notice({
        code: 'events-alone',
        severity: 'warning',
        file,
        place: `second of week ${some(match.eventsAlone.map((k) => poses[k].event.sow.toFixed(2)))}`,
        text: `${match.eventsAlone.length} of ${poses.length} events have no photograph.`,
        effect: 'They are left out of the positions of photographs.',
        remedy: 'A photograph may have been lost, or the event set off without one.',
      });
  }
  const rows = match.pairs.map((p) => ({
    photo: photos[p.photo].name,
    event: p.event,
    gps: gps[p.event],
    offS: Number.isNaN(p.offS) ? null : p.offS,
  }));
  return { match, rows };
}
