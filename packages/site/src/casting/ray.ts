/**
 * A beam in site coordinates: x, y, z as second-order polynomials of the true slope distance s. Straight in
 * Earth-centred space, it is slightly curved over projection and geoid.
 */
export class Ray {
  x0 = 0;
  x1 = 0;
  x2 = 0;
  y0 = 0;
  y1 = 0;
  y2 = 0;
  z0 = 0;
  z1 = 0;
  z2 = 0;

  x(s: number): number {
    return this.x0 + s * (this.x1 + s * this.x2);
  }

  y(s: number): number {
    return this.y0 + s * (this.y1 + s * this.y2);
  }

  z(s: number): number {
    return this.z0 + s * (this.z1 + s * this.z2);
  }

  /** Sets this ray to the same beam, counted from a distance along it. */
  fromAlong(ray: Ray, s: number): void {
    this.x0 = ray.x(s);
    this.x1 = ray.x1 + 2 * s * ray.x2;
    this.x2 = ray.x2;
    this.y0 = ray.y(s);
    this.y1 = ray.y1 + 2 * s * ray.y2;
    this.y2 = ray.y2;
    this.z0 = ray.z(s);
    this.z1 = ray.z1 + 2 * s * ray.z2;
    this.z2 = ray.z2;
  }

  /**
   * Sets the ray from a second-order map (`c` as in core's LocalMap) for a start and a unit direction in north, east,
   * down metres at the map's node.
   */
  fromMap(
    c: Float64Array,
    n: number,
    e: number,
    d: number,
    dn: number,
    de: number,
    dd: number,
    offsetX: number,
    offsetY: number,
  ): void {
    this.x0 = value(c, 0, n, e, d) - offsetX;
    this.x1 = slope(c, 0, n, e, d, dn, de, dd);
    this.x2 = bend(c, 0, dn, de, dd);
    this.y0 = value(c, 10, n, e, d) - offsetY;
    this.y1 = slope(c, 10, n, e, d, dn, de, dd);
    this.y2 = bend(c, 10, dn, de, dd);
    this.z0 = value(c, 20, n, e, d);
    this.z1 = slope(c, 20, n, e, d, dn, de, dd);
    this.z2 = bend(c, 20, dn, de, dd);
  }
}

function value(c: Float64Array, b: number, n: number, e: number, d: number): number {
  return c[b] + n * c[b + 1] + e * c[b + 2] + d * c[b + 3] + bend(c, b, n, e, d);
}

function slope(
  c: Float64Array,
  b: number,
  n: number,
  e: number,
  d: number,
  dn: number,
  de: number,
  dd: number,
): number {
  return (
    dn * (c[b + 1] + 2 * c[b + 4] * n + c[b + 7] * e + c[b + 8] * d) +
    de * (c[b + 2] + 2 * c[b + 5] * e + c[b + 7] * n + c[b + 9] * d) +
    dd * (c[b + 3] + 2 * c[b + 6] * d + c[b + 8] * n + c[b + 9] * e)
  );
}

function bend(c: Float64Array, b: number, n: number, e: number, d: number): number {
  return (
    c[b + 4] * n * n + c[b + 5] * e * e + c[b + 6] * d * d + c[b + 7] * n * e + c[b + 8] * n * d + c[b + 9] * e * d
  );
}
