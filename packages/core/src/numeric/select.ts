/**
 * Moves the k-th smallest value of values[from…to) to place k, smaller ones before it (Hoare 1961, median of three).
 * @returns that value. Changes the array.
 */
export function selectInPlace(
  values: Float64Array | Float32Array | Int32Array,
  k: number,
  from: number,
  to: number,
): number {
  let low = from;
  let high = to - 1;
  while (high > low) {
    const middle = (low + high) >> 1;
    if (values[middle] < values[low]) swap(values, middle, low);
    if (values[high] < values[low]) swap(values, high, low);
    if (values[high] < values[middle]) swap(values, high, middle);
    const pivot = values[middle];
    let i = low;
    let j = high;
    while (i <= j) {
      while (values[i] < pivot) i++;
      while (values[j] > pivot) j--;
      if (i <= j) swap(values, i++, j--);
    }
    if (k <= j) high = j;
    else if (k >= i) low = i;
    else break;
  }
  return values[k];
}

function swap(values: Float64Array | Float32Array | Int32Array, i: number, j: number): void {
  const held = values[i];
  values[i] = values[j];
  values[j] = held;
}
