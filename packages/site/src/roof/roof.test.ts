import { describe, expect, it } from 'vitest';
import { rotationFromAngles } from '@longheron/core/frames';
import { multiply3 } from '@longheron/core/numeric';
import { View } from '@longheron/core/photo';
import { posesAtEvents } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { deliveredMounting, trueMounting, trueTrajectory } from '../drive';
import { siteDrive } from '../files';
import { trueMarks } from '../marks/targets';
import { soffitAt } from '../objects';
import {
  BRIDGE_HALF_WIDTH_M,
  BRIDGE_Y,
  groundAt,
  roadCentreX,
  SITE_ORIGIN_E,
  SITE_ORIGIN_N,
  SITE_SYSTEM,
} from '../terrain';
import { RoofPainter, roofPhotos, TRUE_ROOF_CAMERA, type RoofPhoto } from '.';

const system = parseSystem(SITE_SYSTEM);
const drive = siteDrive();
const SEED = 20260616;
const painter = new RoofPainter(drive, system, SEED, 'medium');
const photos = roofPhotos(drive);
const sensor = trueMounting(SEED).sensors.camera;
/** Picture right, down and ahead are the body's right, down and forward. */
const LOOKS_AHEAD = Float64Array.of(0, 0, 1, 1, 0, 0, 0, 1, 0);

/** The last photograph that is taken at least so far before a place along the road, on the way there. */
function before(y: number, apartM: number): RoofPhoto {
  return photos.filter((p) => p.sow < drive.passes[0].endSow && y - drive.y[index(p)] > apartM).at(-1)!;
}
const index = (p: RoofPhoto) => Math.round((p.sow - drive.startSow) / drive.stepS);

/** Brightness of the pixel in which the camera’s own geometry puts a place. */
function looker(photo: RoofPhoto) {
  const rgb = painter.draw(photo);
  const t = trueTrajectory(drive, system, 1000, photo.sow - 1, photo.sow + 1);
  const [{ attitude: a, ...at }] = posesAtEvents(t, [{ week: 2423, sow: photo.sow, label: '' }], sensor);
  const turn = rotationFromAngles(a!.rollRad, a!.pitchRad, a!.headingRad);
  const view = new View({ ...at, rotation: multiply3(turn, LOOKS_AHEAD) }, { ...TRUE_ROOF_CAMERA, k3: 0 }, system);
  return (x: number, y: number, z: number): number[] | undefined => {
    if (!view.see(SITE_ORIGIN_E + x, SITE_ORIGIN_N + y, z)) return undefined;
    const k = 3 * (Math.round(view.at[1]) * TRUE_ROOF_CAMERA.widthPx + Math.round(view.at[0]));
    return [...rgb.subarray(k, k + 3)];
  };
}

describe('photographs from the vehicle', () => {
  it('are those of the first two passes, one of them lost', () => {
    expect(photos.length).toBeGreaterThan(80);
    expect(photos[0].name).toBe('road_0001.jpg');
    expect(photos.map((p) => p.name)).not.toContain('road_0010.jpg');
    expect(photos.at(-1)!.sow).toBeLessThan(drive.passes[1].endSow + 1);
    expect(photos.every((p) => Math.abs(p.takenS - (photos[0].takenS + p.sow - photos[0].sow)) <= 1)).toBe(true);
  });

  it('show painted targets where collinearity puts their quarters', () => {
    let seen = 0;
    for (const mark of trueMarks().filter((m) => m.cover === 'hard' && m.y > 100 && m.y < 560)) {
      const photo = before(mark.y, 7);
      // farther away a quarter is less than two pixels high
      if (mark.y - drive.y[index(photo)] > 12) continue;
      const look = looker(photo);
      for (const [dx, dy] of [
        [0.14, 0.14],
        [-0.14, 0.14],
        [0.14, -0.14],
        [-0.14, -0.14],
      ]) {
        const rgb = look(mark.x + dx, mark.y + dy, groundAt(mark.x + dx, mark.y + dy));
        if (!rgb) continue;
        seen++;
        expect(rgb[0], `${mark.name} ${dx} ${dy}`).toBeCloseTo(dx > 0 === dy > 0 ? 225 : 15, -1);
      }
    }
    expect(seen).toBeGreaterThanOrEqual(20);
  });

  it('show the deck over the road, and sky beside it', () => {
    const near = BRIDGE_Y - BRIDGE_HALF_WIDTH_M;
    const look = looker(before(near, 30));
    const x = roadCentreX(near);
    const soffit = soffitAt(x, near);
    const grey = look(x, near, soffit + 0.25)!;
    expect(Math.max(...grey) - Math.min(...grey)).toBeLessThan(25);
    const sky = look(x, near, soffit + 4)!;
    expect(sky[2]).toBeGreaterThan(200);
    expect(sky[2] - sky[0]).toBeGreaterThan(25);
  });

  it('come from a camera that hangs a little off what its mounting says, within its deviations', () => {
    const given = deliveredMounting().sensors.camera;
    const off = sensor.leverArmM.map((v, k) => Math.abs(v - given.leverArmM[k]));
    expect(Math.max(...off)).toBeGreaterThan(0);
    expect(Math.max(...off)).toBeLessThan(3.5 * given.leverArmSdM);
    const turned = Object.values(sensor.boresightDeg).map(Math.abs);
    expect(Math.max(...turned)).toBeGreaterThan(0);
    expect(Math.max(...turned)).toBeLessThan(3.5 * (given.boresightSdDeg as number));
  });
});
