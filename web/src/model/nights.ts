/** Which stretches of a build are night by the wall of its own time zone. */

const minutes = (clock: string) => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3, 5));

/** Whether a minute of the day lies between two times of the wall; `from` after `to` goes past midnight. */
export function isNight(minute: number, from: string, to: string): boolean {
  const [f, t] = [minutes(from), minutes(to)];
  return f > t ? minute >= f || minute < t : minute >= f && minute < t;
}

/** The part of an hour that begins at a full hour of the wall that is night, in minutes of it. */
export function nightOf(hour: number, from: string, to: string): [number, number][] {
  const edges = [0, 60];
  for (const at of [minutes(from), minutes(to)])
    if (Math.floor(at / 60) === hour && at % 60) edges.push(at % 60);
  edges.sort((a, b) => a - b);
  const found: [number, number][] = [];
  for (let i = 0; i + 1 < edges.length; i++) {
    const [a, b] = [edges[i]!, edges[i + 1]!];
    if (b > a && isNight(hour * 60 + (a + b) / 2, from, to)) found.push([a, b]);
  }
  return found;
}
