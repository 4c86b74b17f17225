/** The downhill simplex of Nelder and Mead (1965), for functions of a few figures without derivatives. */

const STEP = 0.6;
const MOST_STEPS = 400;
/** Corners whose values differ by no more than this share of them are as good as one. */
const CLOSE = 1e-7;

interface Corner {
  point: Float64Array;
  value: number;
}

/** A point at which a function is as small as the simplex finds it from a start. The point that it is asked at is its own only while it answers. */
export function minimise(of: (point: Float64Array) => number, start: readonly number[]): number[] {
  const size = start.length;
  const value = (point: Float64Array): number => {
    const found = of(point);
    return Number.isFinite(found) ? found : Number.MAX_VALUE;
  };
  const cornerAt = (point: Float64Array): Corner => ({ point, value: value(point) });
  // In order of their values, the best first.
  const corners: Corner[] = [];
  const put = (corner: Corner): void => {
    let at = corners.length;
    while (at > 0 && (corners[at - 1]?.value ?? 0) > corner.value) at -= 1;
    corners.splice(at, 0, corner);
  };
  put(cornerAt(Float64Array.from(start)));
  for (let axis = 0; axis < size; axis += 1) {
    const point = Float64Array.from(start);
    point[axis] = (point[axis] ?? 0) + STEP;
    put(cornerAt(point));
  }
  const centre = new Float64Array(size);
  for (let step = 0; step < MOST_STEPS; step += 1) {
    const [best] = corners;
    const worst = corners[size];
    const second = corners[size - 1] ?? worst;
    if (!best || !worst || !second || worst.value - best.value <= CLOSE * Math.abs(best.value)) break;
    for (let axis = 0; axis < size; axis += 1) {
      let sum = 0;
      for (let corner = 0; corner < size; corner += 1) sum += corners[corner]?.point[axis] ?? 0;
      centre[axis] = sum / size;
    }
    const along = (factor: number): Corner => {
      const point = new Float64Array(size);
      for (let axis = 0; axis < size; axis += 1) {
        const middle = centre[axis] ?? 0;
        point[axis] = middle + factor * ((worst.point[axis] ?? 0) - middle);
      }
      return cornerAt(point);
    };
    const mirrored = along(-1);
    let taken: Corner | null = null;
    if (mirrored.value < best.value) {
      const further = along(-2);
      taken = further.value < mirrored.value ? further : mirrored;
    } else if (mirrored.value < second.value) taken = mirrored;
    else {
      const nearer = along(mirrored.value < worst.value ? -0.5 : 0.5);
      if (nearer.value < Math.min(worst.value, mirrored.value)) taken = nearer;
    }
    if (taken) {
      corners.pop();
      put(taken);
      continue;
    }
    for (const corner of corners.splice(1)) {
      for (let axis = 0; axis < size; axis += 1) corner.point[axis] = ((best.point[axis] ?? 0) + (corner.point[axis] ?? 0)) / 2;
      put(cornerAt(corner.point));
    }
  }
  return [...(corners[0]?.point ?? start)];
}
