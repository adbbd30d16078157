import { type RegisterFigures } from '@longheron/contract/kinds/parts/register';
import { type Vector3 } from '@longheron/core/numeric';
import { type Registered } from '@longheron/core/terrestrial';
import { csvCell } from '@longheron/formats/csv';
import { attitudeOf, quaternionOf, type ScanFrame, type ScanPlacer } from './frame';
import { saidOf, whyUnplaced } from './notices';

const DEG = Math.PI / 180;

/** All of it as it is reported. @param numbers of the scans in the cloud, by name. */
export function figuresOf(
  found: Registered,
  placers: readonly ScanPlacer[],
  counts: readonly number[],
  frame: ScanFrame,
): RegisterFigures {
  const finite = (v: number) => (Number.isFinite(v) ? v : null);
  const inGrid = (d: Vector3) => gridDirection(frame, found.scans[0].atM, d);
  return {
    points: counts.reduce((s, v) => s + v, 0),
    sigma0: finite(found.sigma0),
    redundancy: found.redundancy,
    local: !frame.system,
    scans: found.scans.map((s, k) => {
      const { atM, rotation, gridFactor, convergenceRad } = placers[k];
      const { bearingRad, tiltRad } = attitudeOf(rotation);
      const sd = (at: number) => Math.sqrt(Math.max(0, s.covariance[7 * at]));
      return {
        name: s.name,
        number: k + 1,
        points: counts[k],
        x_m: atM[0],
        y_m: atM[1],
        z_m: atM[2],
        quaternion: quaternionOf(rotation),
        bearing_deg: (((bearingRad / DEG) % 360) + 360) % 360,
        tilt_deg: tiltRad / DEG,
        sd_x_m: sd(0),
        sd_y_m: sd(1),
        sd_z_m: sd(2),
        sd_rot_deg: s.weakest.sdTurnRad / DEG,
        targets: s.targets,
        pieces: s.pieces,
        weakest: inGrid(s.weakest.direction),
        weakest_sd_m: s.weakest.sdM,
        grid_factor: gridFactor,
        convergence_deg: convergenceRad === null ? null : convergenceRad / DEG,
      };
    }),
    pairs: found.pairs.map(({ a, b, rmsM, targets, surfaces: s }) => ({
      a,
      b,
      rms_m: targets ? rmsM : s!.rmsM,
      points: targets || s!.pieces,
      pieces: s?.pieces ?? null,
      surface_rms_m: s?.rmsM ?? null,
      overlap: s?.overlap ?? null,
      agreeing: s?.agreeing ?? null,
      weakest: s ? inGrid(s.weakest.direction) : null,
      weakest_sd_m: s ? finite(s.weakest.sdM) : null,
    })),
    unplaced: found.unplaced.map((u) => {
      const weakest = u.weakest ? inGrid(u.weakest.direction) : null;
      return {
        name: u.name,
        why: u.why,
        weakest,
        weakest_sd_m: u.weakest?.sdM ?? null,
        says: whyUnplaced(u, weakest),
      };
    }),
    unlike: found.unlike,
    surface_factor: finite(found.surfaceScale),
    targets: found.targets.map((t) => {
      const [x_m, y_m, z_m] = frame.toGrid(t.atM);
      return { name: t.name, control: t.control, scans: t.scans, x_m, y_m, z_m, sd_m: t.sdM };
    }),
    residuals: found.residuals
      .map((r) => ({
        scan: r.scan,
        target: r.target,
        de_m: r.offM[0],
        dn_m: r.offM[1],
        dh_m: r.offM[2],
        test: finite(r.test),
      }))
      .sort((a, b) => (b.test ?? -1) - (a.test ?? -1)),
    rejected: found.rejected.map((r) => ({
      what: r.what,
      scan: r.scan ?? null,
      target: r.target ?? null,
      off_m: finite(r.offM),
      test: r.test,
      says: saidOf(r),
    })),
  };
}

/** A direction of the frame as east, north, up of the grid. */
function gridDirection(frame: ScanFrame, at: Vector3, d: Vector3): [number, number, number] {
  const from = frame.toGrid(at);
  const to = frame.toGrid([0, 1, 2].map((k) => at[k] + d[k]) as Vector3);
  const off = [0, 1, 2].map((k) => to[k] - from[k]);
  const length = Math.hypot(...off);
  return [off[0] / length, off[1] / length, off[2] / length];
}

/** Poses as a table. */
export function posesCsv({ scans }: RegisterFigures, crs: string | undefined): string {
  const lines = [...(crs ? [`# crs: ${crs}`] : []), 'scan,x_m,y_m,z_m,qw,qx,qy,qz,sd_x_m,sd_y_m,sd_z_m,sd_rot_deg'];
  for (const s of scans)
    lines.push(
      [
        csvCell(s.name),
        ...[s.x_m, s.y_m, s.z_m].map((v) => v.toFixed(4)),
        ...s.quaternion.map((v) => v.toFixed(9)),
        ...[s.sd_x_m, s.sd_y_m, s.sd_z_m].map((v) => v.toFixed(5)),
        s.sd_rot_deg.toFixed(6),
      ].join(','),
    );
  return `${lines.join('\n')}\n`;
}
