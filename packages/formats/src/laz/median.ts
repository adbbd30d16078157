/** Median of about the last five values, kept in order as the open LAZ specification says. */
export class RunningMedian {
  private a = 0;
  private b = 0;
  /** The median. */
  value = 0;
  private d = 0;
  private e = 0;
  private high = true;

  add(v: number): void {
    if (this.high) {
      if (v < this.value) {
        this.e = this.d;
        this.d = this.value;
        if (v < this.a) {
          this.value = this.b;
          this.b = this.a;
          this.a = v;
        } else if (v < this.b) {
          this.value = this.b;
          this.b = v;
        } else this.value = v;
      } else {
        if (v < this.d) {
          this.e = this.d;
          this.d = v;
        } else this.e = v;
        this.high = false;
      }
    } else if (this.value < v) {
      this.a = this.b;
      this.b = this.value;
      if (this.e < v) {
        this.value = this.d;
        this.d = this.e;
        this.e = v;
      } else if (this.d < v) {
        this.value = this.d;
        this.d = v;
      } else this.value = v;
    } else {
      if (this.b < v) {
        this.a = this.b;
        this.b = v;
      } else this.a = v;
      this.high = true;
    }
  }
}
