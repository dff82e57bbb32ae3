//! Where the sun stands.

/// The sun's place in the sky.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Sun {
    /// Compass bearing of the sun, degrees: 0 north, 90 east.
    pub bearing_deg: f64,
    /// Height above the horizon, degrees.
    pub altitude_deg: f64,
}

impl Sun {
    /// Unit vector towards the sun: east, north, up.
    pub fn direction(&self) -> [f32; 3] {
        let (bearing, altitude) = (
            self.bearing_deg.to_radians(),
            self.altitude_deg.to_radians(),
        );
        [
            (altitude.cos() * bearing.sin()) as f32,
            (altitude.cos() * bearing.cos()) as f32,
            altitude.sin() as f32,
        ]
    }
}

/// Where the sun stands through one day, every hour that it is up, at a
/// latitude (north above 0) and a day of the year (1 to 365).
///
/// Declination after Cooper (1969); hours are those of the sun itself.
pub fn suns_of_day(latitude_deg: f64, day: u32) -> Vec<Sun> {
    let turn = 360.0 * (284.0 + f64::from(day)) / 365.0;
    let declination = (23.45 * turn.to_radians().sin()).to_radians();
    let latitude = latitude_deg.to_radians();
    (0..24)
        .map(|hour| (15.0 * (f64::from(hour) - 12.0)).to_radians())
        .filter_map(|hour| {
            let up = latitude.sin() * declination.sin()
                + latitude.cos() * declination.cos() * hour.cos();
            let east = -declination.cos() * hour.sin();
            let north = latitude.cos() * declination.sin()
                - latitude.sin() * declination.cos() * hour.cos();
            (up > 0.0).then(|| Sun {
                bearing_deg: east.atan2(north).to_degrees().rem_euclid(360.0),
                altitude_deg: up.asin().to_degrees(),
            })
        })
        .collect()
}
