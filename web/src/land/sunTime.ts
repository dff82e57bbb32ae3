const RADIANS = Math.PI / 180;
/** Lower suns are not drawn. */
const LOWEST_DEG = 1;
const round = (degrees: number) => Math.round(10 * degrees) / 10;

/** Where the sun stands at an hour (of its own: south at 12) of a day of the year at a latitude
 * (north above 0), as masks of a sunny day have it (declination after Cooper 1969); null while
 * it is down. */
export function sunAt(latitude_deg: number, day: number, hour: number) {
  const turn = (360 * (284 + day)) / 365;
  const declination = 23.45 * Math.sin(turn * RADIANS) * RADIANS;
  const latitude = latitude_deg * RADIANS;
  const angle = 15 * (hour - 12) * RADIANS;
  const up =
    Math.sin(latitude) * Math.sin(declination) +
    Math.cos(latitude) * Math.cos(declination) * Math.cos(angle);
  const east = -Math.cos(declination) * Math.sin(angle);
  const north =
    Math.cos(latitude) * Math.sin(declination) -
    Math.sin(latitude) * Math.cos(declination) * Math.cos(angle);
  if (up <= 0) return null;
  const bearing = Math.atan2(east, north) / RADIANS;
  return {
    bearing_deg: round((bearing + 360) % 360),
    altitude_deg: Math.max(LOWEST_DEG, round(Math.asin(up) / RADIANS)),
  };
}
