import { FIELD_BYTES } from './fields';
import { ColourEncoder } from './colours';
import { ArithmeticEncoder } from './encoder';
import { IntegerEncoder } from './integers';
import { RunningMedian } from './median';
import { ModelSet, SymbolModel } from './models';
import { RETURN_MAP_8, returnLevel } from './returns';
import { TimeEncoder } from './times';

const TIME_AT: Record<number, number> = { 1: 20, 3: 20 };
const COLOUR_AT: Record<number, number> = { 2: 20, 3: 28 };

/** Codes chunks of the point formats 0 to 3: all fields of a point after each other in one code. */
export class PointwiseChunks {
  private readonly encoder = new ArithmeticEncoder(1 << 20);

  constructor(
    private readonly format: number,
    private readonly pointBytes: number,
  ) {}

  /** @returns the chunk: the first point as it is, then the code of the others. */
  encode(records: Uint8Array, count: number): Uint8Array {
    const { encoder, format, pointBytes: step } = this;
    const view = new DataView(records.buffer, records.byteOffset, records.byteLength);
    encoder.reset();
    const fields = new FieldEncoder(encoder);
    const timeAt = TIME_AT[format];
    const colourAt = COLOUR_AT[format];
    const times = timeAt
      ? new TimeEncoder(encoder, 'pointwise', view.getInt32(timeAt + 4, true), view.getUint32(timeAt, true))
      : undefined;
    const colours = colourAt ? new ColourEncoder(encoder) : undefined;
    const plain = FIELD_BYTES[format];
    const extra = Array.from({ length: step - plain }, () => new SymbolModel(256));
    for (let i = 1, o = step; i < count; i++, o += step) {
      fields.encode(view, records, o - step, o);
      times?.encode(view.getInt32(o + timeAt + 4, true), view.getUint32(o + timeAt, true));
      colours?.encode(records, o - step + colourAt, o + colourAt);
      for (let k = 0; k < extra.length; k++)
        encoder.symbol(extra[k], (records[o + plain + k] - records[o - step + plain + k]) & 255);
    }
    const code = encoder.finish();
    const out = new Uint8Array(step + code.length);
    out.set(records.subarray(0, step));
    out.set(code, step);
    return out;
  }
}

/** The twenty bytes that all older formats begin with. */
class FieldEncoder {
  private readonly changed = new SymbolModel(64);
  private readonly flags = new ModelSet(256, 256);
  private readonly classes = new ModelSet(256, 256);
  private readonly angles = new ModelSet(2, 256);
  private readonly user = new ModelSet(256, 256);
  private readonly intensities: IntegerEncoder;
  private readonly sources: IntegerEncoder;
  private readonly dx: IntegerEncoder;
  private readonly dy: IntegerEncoder;
  private readonly z: IntegerEncoder;
  private readonly medianX = Array.from({ length: 16 }, () => new RunningMedian());
  private readonly medianY = Array.from({ length: 16 }, () => new RunningMedian());
  private readonly lastIntensity = new Uint16Array(16);
  private readonly lastZ = new Int32Array(8);

  constructor(private readonly encoder: ArithmeticEncoder) {
    this.intensities = new IntegerEncoder(encoder, 16, 4);
    this.sources = new IntegerEncoder(encoder, 16, 1);
    this.dx = new IntegerEncoder(encoder, 32, 2);
    this.dy = new IntegerEncoder(encoder, 32, 22);
    this.z = new IntegerEncoder(encoder, 32, 20);
  }

  /** @param last where the point before is. */
  encode(view: DataView, data: Uint8Array, last: number, at: number): void {
    const { encoder, lastIntensity } = this;
    const flags = data[at + 14];
    const r = flags & 7;
    const n = (flags >> 3) & 7;
    const m = RETURN_MAP_8[8 * n + r];
    const l = returnLevel(n, r);
    const intensity = view.getUint16(at + 12, true);
    const source = view.getUint16(at + 18, true);
    const lastSource = view.getUint16(last + 18, true);
    const changed =
      (data[last + 14] !== flags ? 32 : 0) |
      (lastIntensity[m] !== intensity ? 16 : 0) |
      (data[last + 15] !== data[at + 15] ? 8 : 0) |
      (data[last + 16] !== data[at + 16] ? 4 : 0) |
      (data[last + 17] !== data[at + 17] ? 2 : 0) |
      (lastSource !== source ? 1 : 0);
    encoder.symbol(this.changed, changed);
    if (changed & 32) encoder.symbol(this.flags.of(data[last + 14]), flags);
    if (changed & 16) {
      this.intensities.encode(lastIntensity[m], intensity, m < 3 ? m : 3);
      lastIntensity[m] = intensity;
    }
    if (changed & 8) encoder.symbol(this.classes.of(data[last + 15]), data[at + 15]);
    if (changed & 4) encoder.symbol(this.angles.of((flags >> 6) & 1), (data[at + 16] - data[last + 16]) & 255);
    if (changed & 2) encoder.symbol(this.user.of(data[last + 17]), data[at + 17]);
    if (changed & 1) this.sources.encode(lastSource, source, 0);
    const single = n === 1 ? 1 : 0;
    const dx = (view.getInt32(at, true) - view.getInt32(last, true)) | 0;
    this.dx.encode(this.medianX[m].value, dx, single);
    this.medianX[m].add(dx);
    const dy = (view.getInt32(at + 4, true) - view.getInt32(last + 4, true)) | 0;
    this.dy.encode(this.medianY[m].value, dy, single + (this.dx.k < 20 ? this.dx.k & ~1 : 20));
    this.medianY[m].add(dy);
    const k = (this.dx.k + this.dy.k) >> 1;
    const z = view.getInt32(at + 8, true);
    this.z.encode(this.lastZ[l], z, single + (k < 18 ? k & ~1 : 18));
    this.lastZ[l] = z;
  }
}
