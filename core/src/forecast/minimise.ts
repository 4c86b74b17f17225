/** The downhill simplex of Nelder and Mead (1965), for functions of a few figures without derivatives. */

const STEP = 0.6;
const MOST_STEPS = 260;
const CLOSE = 1e-9;

/** A point at which a function is as small as the simplex finds it from a start. */
export function minimise(of: (point: readonly number[]) => number, start: readonly number[]): number[] {
  const size = start.length;
  const value = (point: readonly number[]): number => {
    const found = of(point);
    return Number.isFinite(found) ? found : Number.MAX_VALUE;
  };
  let corners = [start, ...start.map((_, axis) => start.map((each, index) => (index === axis ? each + STEP : each)))].map((point) => ({
    point,
    value: value(point),
  }));
  for (let step = 0; step < MOST_STEPS; step += 1) {
    corners = corners.sort((a, b) => a.value - b.value);
    const [best] = corners;
    const worst = corners[size];
    const second = corners[size - 1] ?? worst;
    if (!best || !worst || !second || worst.value - best.value <= CLOSE * (Math.abs(best.value) + CLOSE)) break;
    const centre = start.map((_, axis) => corners.slice(0, size).reduce((sum, corner) => sum + (corner.point[axis] ?? 0), 0) / size);
    const along = (factor: number): { point: number[]; value: number } => {
      const point = centre.map((each, axis) => each + factor * ((worst.point[axis] ?? 0) - each));
      return { point, value: value(point) };
    };
    const mirrored = along(-1);
    if (mirrored.value < best.value) {
      const further = along(-2);
      corners[size] = further.value < mirrored.value ? further : mirrored;
    } else if (mirrored.value < second.value) corners[size] = mirrored;
    else {
      const nearer = along(mirrored.value < worst.value ? -0.5 : 0.5);
      if (nearer.value < Math.min(worst.value, mirrored.value)) corners[size] = nearer;
      else
        corners = corners.map((corner, index) => {
          if (index === 0) return corner;
          const point = corner.point.map((each, axis) => ((best.point[axis] ?? 0) + each) / 2);
          return { point, value: value(point) };
        });
    }
  }
  const [best] = corners.sort((a, b) => a.value - b.value);
  return [...(best?.point ?? start)];
}
