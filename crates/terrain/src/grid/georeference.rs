//! Where a land lies on earth.

/// Where a land lies on earth: kept as the file that it came from says it, so that files that
/// are made of it lie in the same place for other programs.
#[derive(Clone, Debug, PartialEq)]
#[cfg_attr(
    feature = "serde",
    derive(serde::Serialize, serde::Deserialize, schemars::JsonSchema),
    serde(deny_unknown_fields)
)]
pub struct Georeference {
    /// West edge, in units of the coordinate system.
    #[cfg_attr(feature = "serde", schemars(range(min = -1e9, max = 1e9)))]
    pub west: f64,
    /// South edge.
    #[cfg_attr(feature = "serde", schemars(range(min = -1e9, max = 1e9)))]
    pub south: f64,
    /// East edge.
    #[cfg_attr(feature = "serde", schemars(range(min = -1e9, max = 1e9)))]
    pub east: f64,
    /// North edge.
    #[cfg_attr(feature = "serde", schemars(range(min = -1e9, max = 1e9)))]
    pub north: f64,
    /// The coordinate system: the directory of geo keys of a GeoTIFF (OGC 19-008r4, 7.1).
    #[cfg_attr(
        feature = "serde",
        schemars(length(max = 1_000), inner(range(min = 0, max = 65_535)))
    )]
    pub directory: Vec<u16>,
    /// Numbers that the directory refers to.
    #[cfg_attr(feature = "serde", serde(default), schemars(length(max = 1_000), inner(range(min = -1e300, max = 1e300))))]
    pub doubles: Vec<f64>,
    /// Names that the directory refers to.
    #[cfg_attr(feature = "serde", serde(default), schemars(length(max = 4_000)))]
    pub ascii: String,
}

/// Keys that name a coordinate system by its number (EPSG): projected, then geographic.
const NUMBERED: [u16; 2] = [3072, 2048];
/// Numbers from here on name nothing.
const USER_DEFINED: u16 = 32_767;

impl Georeference {
    /// What the coordinate system is called: its own name, or its number.
    pub fn name(&self) -> String {
        let own = self
            .ascii
            .split('|')
            .map(str::trim)
            .find(|name| !name.is_empty());
        let keys = self.directory.chunks_exact(4).skip(1);
        let number = NUMBERED.iter().find_map(|wanted| {
            let mut found = keys.clone().filter(|key| key[0] == *wanted && key[1] == 0);
            found
                .next()
                .map(|key| key[3])
                .filter(|number| *number < USER_DEFINED)
        });
        match (own, number) {
            (Some(own), Some(number)) => format!("{own} (EPSG:{number})"),
            (Some(own), None) => own.to_owned(),
            (None, Some(number)) => format!("EPSG:{number}"),
            (None, None) => "a coordinate system of its own".to_owned(),
        }
    }

    /// Whether the edges are in order and all numbers are numbers.
    pub fn is_sound(&self) -> bool {
        let edges = [self.west, self.south, self.east, self.north];
        let finite = edges
            .iter()
            .chain(&self.doubles)
            .all(|value| value.is_finite());
        finite && self.west < self.east && self.south < self.north
    }
}
