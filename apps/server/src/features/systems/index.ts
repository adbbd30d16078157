import { type Router } from 'express';
import { findSystem, searchSystems, systemOf } from '@longheron/formats/crs';
import { type ReferenceDto } from '@longheron/contract/api';
import { type ReferenceLine } from '@longheron/contract/requests';

/** Search in the EPSG list. */
export function systemRoutes(api: Router): void {
  api.get('/systems', (request, response) => {
    response.json(searchSystems(String(request.query.q ?? ''), 'projected', 40));
  });
}

/**
 * A reference line with all that the screen shows of it. @param grids that heights refer to and plan is shifted by, if any.
 * @throws Problem when the system cannot be used.
 */
export function describeReference(
  line: ReferenceLine,
  { geoid, shift }: Pick<ReferenceDto, 'geoid' | 'shift'> = {},
): ReferenceDto {
  const system = systemOf(line.horizontal, geoid ?? line.vertical, shift);
  const { definition } = system;
  const entry = findSystem(line.horizontal)!;
  return {
    horizontal: line.horizontal,
    horizontalName: entry.name,
    proj4: entry.proj4,
    bbox: entry.bbox,
    vertical: definition.verticalCode,
    verticalName: definition.verticalName,
    unit: line.unit,
    time: line.time,
    epoch: line.epoch,
    statement: [system.datum.statement, system.geoid.statement].filter(Boolean).join('; '),
    ...(geoid ? { geoid } : {}),
    ...(shift ? { shift } : {}),
  };
}
