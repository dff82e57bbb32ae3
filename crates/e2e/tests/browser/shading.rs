//! What the page's shaders and its own code do on the screen is what the core does in
//! files: how textures are broken up, laid from the side, and blended by their heights.

use anyhow::{Context, Result, ensure};
use e2e::Browser;
use serde::Deserialize;
use serde_json::json;
use terrain::ground::{faces, height_blend, patches};
use terrain::noise::{hash, unit};

/// Places that are compared.
const PLACES: u32 = 2000;
/// Shaders count in 32 bits: a place forty repeats away is known to a millionth.
const NEAR: f64 = 2e-4;

/// Where a texture lies, how steep the land is there, and two covers that meet.
struct Place {
    /// In repeats of the texture.
    uv: [f64; 2],
    /// Rise towards east and north.
    rise: [f32; 2],
    mask: f32,
    above: f32,
    below: f32,
    width: f32,
}

impl Place {
    fn all() -> Vec<Place> {
        let place = |i| {
            let at = |k| unit(hash(i as i32, k, 5));
            Place {
                uv: [0, 1].map(|k| f64::from(at(k) * 80.0 - 40.0)),
                // As many gentle ones as steep ones.
                rise: [2, 3].map(|k| (at(k) * 2.0 - 1.0).powi(3) * 3.0),
                mask: at(4),
                above: at(5),
                below: at(6),
                width: (at(7) - 0.2).max(0.0),
            }
        };
        (0..PLACES).map(place).collect()
    }

    /// What the core makes of it.
    fn laid(&self) -> [f64; 7] {
        let [u, v] = self.uv;
        let blended = height_blend(self.mask, self.above, self.below, self.width);
        let [a, b, c] = patches(u, v);
        let shown = [a, b, c].map(|patch| (f64::from(patch.weight), patch.shift));
        sums(shown, faces(self.rise).map(f64::from), f64::from(blended))
    }
}

/// Sums over the patches instead of the patches, for these do not jump where one patch
/// gives way to another; and how much is seen of each face.
fn sums(patches: [(f64, [f64; 2]); 3], faces: [f64; 3], blended: f64) -> [f64; 7] {
    let sum = |part: fn([f64; 2], f64) -> f64| -> f64 {
        patches.iter().map(|(w, shift)| w * part(*shift, *w)).sum()
    };
    let all: f64 = faces.iter().sum();
    [
        sum(|_, weight| weight),
        sum(|shift, _| shift[0]),
        sum(|shift, _| shift[1]),
        faces[0] / all,
        faces[1] / all,
        faces[2] / all,
        blended,
    ]
}

/// What the page says of the places.
#[derive(Deserialize)]
struct OfPage {
    glsl: String,
    /// Patches (weight and shift) and faces of each place.
    values: Vec<([[f64; 3]; 3], [f64; 3])>,
}

fn ask_page(places: &[Place]) -> Result<OfPage> {
    let rows: Vec<_> = places
        .iter()
        .map(|place| json!([place.uv[0], place.uv[1], place.rise[0], place.rise[1]]))
        .collect();
    let imports = [
        ("patches", "land/scene/breakUp.ts"),
        ("faces", "land/scene/breakUp.ts"),
        ("BREAK_UP", "land/scene/shaders/breakUp.ts"),
    ];
    let body = "
        const values = input.map(([u, v, east, north]) => [patches(u, v), faces(east, north)]);
        return { glsl: BREAK_UP, values };";
    Ok(serde_json::from_value(e2e::ask(
        &imports,
        body,
        json!(rows),
    )?)?)
}

/// Draws one pixel pair a place with the page's shader code, and reads them back.
const DRAW: &str = r#"
const [glsl, given, count] = arguments;
const canvas = document.createElement("canvas");
const gl = canvas.getContext("webgl2");
if (!gl || !gl.getExtension("EXT_color_buffer_float")) return "no WebGL 2 with floats";
const shader = (kind, text) => {
  const made = gl.createShader(kind);
  gl.shaderSource(made, text);
  gl.compileShader(made);
  if (!gl.getShaderParameter(made, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(made));
  return made;
};
const program = gl.createProgram();
gl.attachShader(program, shader(gl.VERTEX_SHADER, `#version 300 es
void main() {
  vec2 corner = vec2(float(gl_VertexID & 1), float(gl_VertexID >> 1)) * 4.0 - 1.0;
  gl_Position = vec4(corner, 0.0, 1.0);
}`));
gl.attachShader(program, shader(gl.FRAGMENT_SHADER, `#version 300 es
precision highp float;
precision highp int;
uniform highp sampler2D given;
out vec4 told;
${glsl}
void main() {
  ivec2 at = ivec2(gl_FragCoord.xy);
  vec4 place = texelFetch(given, ivec2(at.x, 0), 0), meeting = texelFetch(given, ivec2(at.x, 1), 0);
  vec3 w, faced = faces(place.zw);
  vec2 a, b, c;
  patches(place.xy, w, a, b, c);
  vec2 shifted = w.x * a + w.y * b + w.z * c;
  faced /= faced.x + faced.y + faced.z;
  told = at.y == 0
    ? vec4(dot(w, w), shifted, faced.x)
    : vec4(faced.yz, heightBlend(meeting.x, meeting.y, meeting.z, meeting.w), 0.0);
}`));
gl.linkProgram(program);
gl.useProgram(program);
const texture = (data) => {
  gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
  gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA32F, count, 2, 0, gl.RGBA, gl.FLOAT, data);
  gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
  gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
  return gl.getParameter(gl.TEXTURE_BINDING_2D);
};
const target = texture(null);
gl.bindFramebuffer(gl.FRAMEBUFFER, gl.createFramebuffer());
gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, target, 0);
texture(new Float32Array(given));
gl.viewport(0, 0, count, 2);
gl.drawArrays(gl.TRIANGLES, 0, 3);
const told = new Float32Array(8 * count);
gl.readPixels(0, 0, count, 2, gl.RGBA, gl.FLOAT, told);
return [...told];
"#;

async fn ask_shader(glsl: &str, places: &[Place]) -> Result<Vec<[f64; 7]>> {
    let above = places
        .iter()
        .flat_map(|p| [p.uv[0] as f32, p.uv[1] as f32, p.rise[0], p.rise[1]]);
    let below = places
        .iter()
        .flat_map(|p| [p.mask, p.above, p.below, p.width]);
    let given: Vec<f32> = above.chain(below).collect();
    let folder = tempfile::tempdir()?;
    let browser = Browser::open(folder.path()).await?;
    browser.go("about:blank").await?;
    let arguments = vec![json!(glsl), json!(given), json!(places.len())];
    let told = browser.script(DRAW, arguments).await?;
    browser.close().await?;
    let told: Vec<f64> =
        serde_json::from_value(told.clone()).with_context(|| format!("the shader says {told}"))?;
    let (first, second) = told.split_at(told.len() / 2);
    Ok(first
        .chunks_exact(4)
        .zip(second.chunks_exact(4))
        .map(|(a, b)| [a[0], a[1], a[2], a[3], b[0], b[1], b[2]])
        .collect())
}

fn ensure_near(who: &str, place: &Place, told: &[f64], core: &[f64]) -> Result<()> {
    let off = told.iter().zip(core).map(|(a, b)| (a - b).abs());
    ensure!(
        told.len() == core.len() && off.fold(0.0, f64::max) < NEAR,
        "{who} at {:?}, rise {:?}: {told:?}, the core has {core:?}",
        place.uv,
        place.rise
    );
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn shaders_lay_textures_as_the_core_does() -> Result<()> {
    let places = Place::all();
    let page = ask_page(&places)?;
    let shader = ask_shader(&page.glsl, &places).await?;
    ensure!(page.values.len() == places.len() && shader.len() == places.len());
    for ((place, (patches, faces)), drawn) in places.iter().zip(page.values).zip(&shader) {
        let core = place.laid();
        let patches = patches.map(|[weight, u, v]| (weight, [u, v]));
        let page = sums(patches, faces, core[6]);
        ensure_near("the page", place, &page, &core)?;
        ensure_near("the shader", place, drawn, &core)?;
    }
    // Both ways of laying were looked at.
    let steep = shader.iter().filter(|told| told[5] < 1.0).count();
    ensure!((200..1800).contains(&steep), "{steep} places from the side");
    Ok(())
}
