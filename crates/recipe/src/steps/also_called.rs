//! What people call things that are called otherwise here, so that a search finds them.

/// Other words for a kind of step, for what it makes or for what it is used for.
pub(super) fn also_called(kind: &str) -> &'static [&'static str] {
    match kind {
        "noise" => &[
            "hills",
            "mountains",
            "fractal",
            "perlin",
            "ridged",
            "billow",
            "cells",
            "dune",
            "rough",
            "random",
        ],
        "primitive" => &[
            "cone", "dome", "crater", "volcano", "plateau", "mesa", "gradient", "ramp", "peak",
            "shape", "lake", "basin", "bowl",
        ],
        "heightfield" => &[
            "import",
            "image",
            "picture",
            "height map",
            "elevation model",
            "dem",
            "file",
            "photo",
            "stamp",
        ],
        "tiles" => &["repeat", "texture", "pattern", "seamless", "image"],
        "take_in" => &["join", "combine", "blend", "layer", "group", "reuse"],
        "strew" => &[
            "scatter", "rocks", "boulders", "stones", "stamps", "copies", "brush", "islands",
            "craters",
        ],
        "displace" => &["bump", "rock detail", "texture", "push out", "normal"],
        "outcrop" => &["cliff", "rock", "crag", "bluff", "overhang"],
        "course" => &[
            "canyon", "gorge", "river", "valley", "ridge", "road", "path", "track", "coast",
            "shore", "line", "curve", "spline", "trough", "draw",
        ],
        "hand_work" => &[
            "sculpt", "brush", "paint", "raise", "lower", "dig", "smooth", "flatten", "grab",
            "push", "stroke", "pen", "draw",
        ],
        "fall_off" => &["island", "edge", "border", "coast", "vignette", "fade"],
        "cut" => &["outline", "island", "mask", "crop", "clip", "shape"],
        "warp" => &["distort", "bend", "deform", "twist", "natural"],
        "swirl" => &["flow", "curl", "vortex", "distort", "marble"],
        "drift" => &["wind", "shear", "move", "direction", "dune", "slide"],
        "pull" => &["pinch", "bloat", "push", "magnet", "attract"],
        "twirl" => &["spin", "whirl", "spiral", "rotate", "twist"],
        "rescale" => &[
            "scale",
            "range",
            "height",
            "stretch",
            "normalise",
            "normalize",
            "remap",
            "levels",
        ],
        "clip" => &[
            "clamp", "cut off", "limit", "floor", "ceiling", "flat top", "plateau", "cliff",
        ],
        "ground_at_zero" => &["base", "zero", "floor", "ground level", "reset", "align"],
        "invert" => &["upside down", "negative", "flip", "reverse", "canyon"],
        "curve" => &[
            "levels", "remap", "profile", "tone", "adjust", "cliff", "contrast",
        ],
        "bias_gain" => &["contrast", "gamma", "sharpen", "steepness", "remap"],
        "terraces" => &[
            "steps", "layers", "strata", "mesa", "cliff", "rice", "bands",
        ],
        "ease_foot" => &["blend", "soften", "smooth", "base", "skirt", "foot"],
        "blur" => &["smooth", "soften", "round", "average", "relax"],
        "sharpen" => &["crisp", "detail", "ridges", "enhance", "contrast"],
        "ages" => &[
            "erosion",
            "ages",
            "mountain range",
            "rivers",
            "valleys",
            "canyon",
            "uplift",
            "tectonic",
            "age",
            "geology",
        ],
        "water" => &[
            "erosion",
            "running water",
            "rain",
            "gully",
            "fluvial",
            "sediment",
            "canyon",
            "wash",
        ],
        "rivers" => &[
            "river network",
            "erosion",
            "valley",
            "drainage",
            "canyon",
            "stream",
            "path",
        ],
        "river_beds" => &[
            "river", "stream", "channel", "path", "canyon", "brook", "carve",
        ],
        "crumble" => &[
            "crumbling",
            "erosion",
            "scree",
            "talus",
            "landslide",
            "slope",
            "cliff",
            "weather",
        ],
        "settle" => &[
            "sediment",
            "deposit",
            "fill",
            "lake",
            "flat",
            "valley floor",
            "smooth",
            "pond",
        ],
        "flatten" => &[
            "level", "smooth", "lake", "path", "road", "plain", "floor", "valley",
        ],
        "snow" => &["ice", "winter", "drift", "glacier", "white"],
        _ => &[],
    }
}

#[cfg(test)]
mod tests {
    use crate::steps::kind_sheets;

    #[test]
    fn every_kind_has_other_words_and_common_wishes_find_something() {
        let sheets = kind_sheets();
        for sheet in &sheets {
            assert!(sheet.also_called.len() >= 5, "{}", sheet.kind);
        }
        for wish in [
            "brush", "path", "lake", "cliff", "dune", "canyon", "smooth", "island", "erosion",
            "volcano", "terrace", "river", "rock", "valley",
        ] {
            let found = sheets.iter().filter(|sheet| {
                let title = sheet.title.to_lowercase();
                title.contains(wish) || sheet.also_called.iter().any(|word| word.contains(wish))
            });
            assert!(found.count() > 0, "{wish}");
        }
    }
}
