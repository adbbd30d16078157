import { type Router } from 'express';
import { findSystem, searchSystems, systemNamed, systemOf } from '@longheron/formats/crs';
import { type ReferenceDto } from '@longheron/contract/api';
import { type ReferenceLine } from '@longheron/contract/requests';

/** Search in the EPSG list. */
export function systemRoutes(api: Router): void {
  api.get('/systems', (request, response) => {
    response.json(searchSystems(String(request.query.q ?? ''), 'projected', 40));
  });
}

/** Files of a reference line: of plan, of heights, of the datum. */
export type LineFiles = Pick<ReferenceDto, 'plan' | 'geoid' | 'shift'>;

/**
 * A reference line with all that the screen shows of it. @param files that define plan, that heights refer to and plan is
 * shifted by, if any. @throws Problem when the system cannot be used.
 */
export function describeReference(line: ReferenceLine, { plan, geoid, shift }: LineFiles = {}): ReferenceDto {
  const file = plan && systemNamed(plan);
  const own = line.ownHeights && !geoid && file?.heights !== undefined;
  const system = systemOf(plan ?? line.horizontal, own ? undefined : (geoid ?? line.vertical), shift);
  const { definition } = system;
  const entry = plan ? undefined : findSystem(line.horizontal);
  const left = file?.heights && !geoid && !definition.verticalCode ? 'left' : undefined;
  const fileHeights = own ? 'used' : left;
  return {
    horizontal: plan ? 0 : line.horizontal,
    horizontalName: definition.horizontalName,
    proj4: definition.site ? '' : definition.proj4,
    bbox: entry?.bbox ?? null,
    vertical: definition.verticalCode,
    verticalName: definition.verticalName,
    unit: line.unit,
    time: line.time,
    epoch: line.epoch,
    statement: [system.datum.statement, system.geoid.statement].filter(Boolean).join('; '),
    ...(plan ? { plan, datumName: file?.plan?.geographic.name } : {}),
    ...(fileHeights ? { fileHeights } : {}),
    ...(definition.depths ? { depths: true } : {}),
    ...(geoid ? { geoid } : {}),
    ...(line.surfaceSdM ? { surfaceSdM: line.surfaceSdM } : {}),
    ...(shift ? { shift } : {}),
  };
}
