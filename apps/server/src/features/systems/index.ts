import { type Router } from 'express';
import { EGM96, ELLIPSOIDAL } from '@longheron/core/frames';
import { findSystem, searchSystems, systemDefinition } from '@longheron/formats/crs';
import { type ReferenceDto } from '@longheron/contract/api';
import { type ReferenceLine } from '@longheron/contract/requests';
import { makeReferenceSystem } from '@longheron/core/frames';

/** Search in the EPSG list. */
export function systemRoutes(api: Router): void {
  api.get('/systems', (request, response) => {
    response.json(searchSystems(String(request.query.q ?? ''), 'projected', 40));
  });
}

/** A reference line with all that the screen shows of it. Throws a Problem when the system cannot be used. */
export function describeReference(line: ReferenceLine): ReferenceDto {
  const definition = systemDefinition(line.horizontal, line.vertical);
  makeReferenceSystem(definition);
  const entry = findSystem(line.horizontal)!;
  return {
    horizontal: line.horizontal,
    horizontalName: entry.name,
    proj4: entry.proj4,
    bbox: entry.bbox,
    vertical: line.vertical,
    verticalName: definition.verticalName,
    unit: line.unit,
    time: line.time,
    epoch: line.epoch,
    statement: (line.vertical === 5773 ? EGM96 : ELLIPSOIDAL).statement,
  };
}
