//! glTF 2.0 in one file (Khronos Group 2021; ISO/IEC 12113:2022): JSON, then numbers and
//! pictures.

use std::collections::BTreeMap;
use std::io::Write;

use gltf_json as json;
use json::accessor::{ComponentType, GenericComponentType, Type};
use json::buffer::{Target, View};
use json::material::{PbrBaseColorFactor, StrengthFactor};
use json::mesh::{Mode, Primitive, Semantic};
use json::validation::{Checked, USize64};
use json::{Accessor, Index, Material};
use terrain::mesh::east_along;

use super::{Model, Textures};
use crate::WriteError;

const MAGIC: &[u8; 4] = b"glTF";
const VERSION: u32 = 2;
const JSON: &[u8; 4] = b"JSON";
const BIN: &[u8; 4] = b"BIN\0";
/// Of the file, and of each chunk.
const FILE_HEADER: usize = 12;
const CHUNK_HEADER: usize = 8;
/// Numbers are gathered to so many before they are written.
const AT_ONCE: usize = 1 << 14;

/// Writes a mesh, with its textures when there are any. The land is one part of it, sides
/// and floor of a solid another.
///
/// # Errors
/// [`WriteError`]; when the file would be longer than the format can say, 4 GiB.
pub fn write_glb(mut out: impl Write, model: &Model) -> Result<(), WriteError> {
    let mesh = model.mesh;
    let normals = model.smooth.then(|| mesh.smooth_normals());
    let mut plan = Plan::new();
    let vertices = &mesh.vertices[..mesh.land_vertices];
    let (land, sides) = mesh.triangles.split_at(mesh.of_land);
    let mut attributes = BTreeMap::new();
    let bounds = bounds(vertices.iter().copied());
    let positions = plan.numbers(vertices.len(), Type::Vec3, Some(bounds));
    attributes.insert(Checked::Valid(Semantic::Positions), positions);
    if normals.is_some() {
        let normals = plan.numbers(vertices.len(), Type::Vec3, None);
        attributes.insert(Checked::Valid(Semantic::Normals), normals);
    }
    // Pictures of directions need to know which way is east.
    let tangents = normals.as_ref().filter(|_| model.textures.is_some());
    if tangents.is_some() {
        let tangents = plan.numbers(vertices.len(), Type::Vec4, None);
        attributes.insert(Checked::Valid(Semantic::Tangents), tangents);
    }
    let laid = plan.numbers(vertices.len(), Type::Vec2, None);
    attributes.insert(Checked::Valid(Semantic::TexCoords(0)), laid);
    let indices = plan.indices(3 * land.len());
    plan.part(attributes, Some(indices), 0);
    let corners = || sides.iter().flatten().map(|&at| mesh.vertices[at as usize]);
    if !sides.is_empty() {
        let count = 3 * sides.len();
        let positions = plan.numbers(count, Type::Vec3, Some(self::bounds(corners())));
        let normals = plan.numbers(count, Type::Vec3, None);
        let attributes = BTreeMap::from([
            (Checked::Valid(Semantic::Positions), positions),
            (Checked::Valid(Semantic::Normals), normals),
        ]);
        plan.part(attributes, None, 1);
    }
    let pictures = model.textures.map(pictures);
    for picture in pictures.iter().flatten() {
        plan.picture(picture.len());
    }
    let root = plan.finished(model, normals.is_some());

    let text = root.to_string();
    let text = text.map_err(|error| WriteError::Encode(error.to_string()))?;
    let text_bytes = text.len().next_multiple_of(4);
    let whole = FILE_HEADER + 2 * CHUNK_HEADER + text_bytes + plan.bytes;
    let length = |bytes: usize| {
        let fits = u32::try_from(bytes).map(u32::to_le_bytes);
        fits.map_err(|_| WriteError::Encode(format!("{bytes} bytes; GLB holds 4 GiB")))
    };
    out.write_all(MAGIC)?;
    out.write_all(&VERSION.to_le_bytes())?;
    out.write_all(&length(whole)?)?;
    out.write_all(&length(text_bytes)?)?;
    out.write_all(JSON)?;
    out.write_all(text.as_bytes())?;
    out.write_all(&b"   "[..text_bytes - text.len()])?;
    out.write_all(&length(plan.bytes)?)?;
    out.write_all(BIN)?;

    write_floats(&mut out, vertices.iter().copied().map(y_up))?;
    if let Some(normals) = &normals {
        write_floats(&mut out, normals.iter().copied().map(y_up))?;
    }
    if let Some(normals) = tangents {
        write_floats(&mut out, normals.iter().copied().map(tangent))?;
    }
    write_floats(&mut out, vertices.iter().map(|&at| model.laid.at(at)))?;
    write_numbers(&mut out, land.iter().copied(), u32::to_le_bytes)?;
    write_floats(&mut out, corners().map(y_up))?;
    let facing = sides.iter().flat_map(|&side| [y_up(mesh.facing(side)); 3]);
    write_floats(&mut out, facing)?;
    for picture in pictures.iter().flatten() {
        out.write_all(picture)?;
        out.write_all(&[0; 3][..padding(picture.len())])?;
    }
    Ok(())
}

/// x east, y up, z south.
fn y_up([east, north, up]: [f32; 3]) -> [f32; 3] {
    [east, up, -north]
}

/// East along a surface with this direction, and that north is to the left of it.
fn tangent(normal: [f32; 3]) -> [f32; 4] {
    let [x, y, z] = y_up(east_along(normal));
    [x, y, z, 1.0]
}

/// The least and the greatest of each coordinate, with y up.
fn bounds(places: impl Iterator<Item = [f32; 3]>) -> [[f32; 3]; 2] {
    let nothing = [[f32::INFINITY; 3], [f32::NEG_INFINITY; 3]];
    places.map(y_up).fold(nothing, |[low, high], place| {
        let each = |of: fn(f32, f32) -> f32, so_far: [f32; 3]| {
            std::array::from_fn(|axis| of(so_far[axis], place[axis]))
        };
        [each(f32::min, low), each(f32::max, high)]
    })
}

fn pictures(textures: &Textures) -> [&[u8]; 3] {
    [
        &textures.albedo,
        &textures.normal,
        &textures.occlusion_roughness,
    ]
}

fn padding(bytes: usize) -> usize {
    bytes.next_multiple_of(4) - bytes
}

fn write_floats<const N: usize>(
    out: impl Write,
    values: impl Iterator<Item = [f32; N]>,
) -> Result<(), WriteError> {
    write_numbers(out, values, f32::to_le_bytes)
}

/// Numbers of four bytes, many at a time.
fn write_numbers<T, const N: usize>(
    mut out: impl Write,
    values: impl Iterator<Item = [T; N]>,
    bytes_of: impl Fn(T) -> [u8; 4],
) -> Result<(), WriteError> {
    let mut bytes = Vec::with_capacity(4 * AT_ONCE);
    for value in values {
        for number in value {
            bytes.extend_from_slice(&bytes_of(number));
        }
        if bytes.len() >= 4 * (AT_ONCE - N) {
            out.write_all(&bytes)?;
            bytes.clear();
        }
    }
    Ok(out.write_all(&bytes)?)
}

/// What the numbers of the file will be, in the order in which they are written.
#[derive(Default)]
struct Plan {
    root: json::Root,
    parts: Vec<Primitive>,
    bytes: usize,
}

impl Plan {
    fn new() -> Self {
        let mut plan = Self::default();
        plan.root.asset.generator = Some("Morphogen".to_owned());
        let buffer = json::Buffer {
            byte_length: USize64(0),
            name: None,
            uri: None,
            extensions: None,
            extras: json::Extras::default(),
        };
        plan.root.push(buffer);
        plan
    }

    fn view(&mut self, bytes: usize, target: Option<Target>) -> Index<View> {
        let view = View {
            buffer: Index::new(0),
            byte_length: USize64::from(bytes),
            byte_offset: Some(USize64::from(self.bytes)),
            byte_stride: None,
            name: None,
            target: target.map(Checked::Valid),
            extensions: None,
            extras: json::Extras::default(),
        };
        self.bytes += bytes + padding(bytes);
        self.root.push(view)
    }

    fn numbers(
        &mut self,
        count: usize,
        kind: Type,
        bounds: Option<[[f32; 3]; 2]>,
    ) -> Index<Accessor> {
        let view = self.view(4 * kind.multiplicity() * count, Some(Target::ArrayBuffer));
        let [min, max] = bounds.map_or([None, None], |bounds| {
            bounds.map(|bound| Some(bound.to_vec().into()))
        });
        self.accessor(view, count, (ComponentType::F32, kind), [min, max])
    }

    fn indices(&mut self, count: usize) -> Index<Accessor> {
        let view = self.view(4 * count, Some(Target::ElementArrayBuffer));
        let kind = (ComponentType::U32, Type::Scalar);
        self.accessor(view, count, kind, [None, None])
    }

    fn accessor(
        &mut self,
        view: Index<View>,
        count: usize,
        (number, kind): (ComponentType, Type),
        [min, max]: [Option<json::Value>; 2],
    ) -> Index<Accessor> {
        self.root.push(Accessor {
            buffer_view: Some(view),
            byte_offset: None,
            count: USize64::from(count),
            component_type: Checked::Valid(GenericComponentType(number)),
            type_: Checked::Valid(kind),
            min,
            max,
            name: None,
            normalized: false,
            sparse: None,
            extensions: None,
            extras: json::Extras::default(),
        })
    }

    fn part(
        &mut self,
        attributes: BTreeMap<Checked<Semantic>, Index<Accessor>>,
        indices: Option<Index<Accessor>>,
        material: u32,
    ) {
        self.parts.push(Primitive {
            attributes,
            indices,
            material: Some(Index::new(material)),
            mode: Checked::Valid(Mode::Triangles),
            targets: None,
            extensions: None,
            extras: json::Extras::default(),
        });
    }

    fn picture(&mut self, bytes: usize) {
        let view = self.view(bytes, None);
        let image = self.root.push(json::Image {
            buffer_view: Some(view),
            mime_type: Some(json::image::MimeType("image/png".to_owned())),
            name: None,
            uri: None,
            extensions: None,
            extras: json::Extras::default(),
        });
        let sampler = match self.root.samplers.is_empty() {
            true => self.root.push(json::texture::Sampler::default()),
            false => Index::new(0),
        };
        self.root.push(json::Texture {
            name: None,
            sampler: Some(sampler),
            source: image,
            extensions: None,
            extras: json::Extras::default(),
        });
    }

    /// The whole description, once all that is written is planned.
    fn finished(&mut self, model: &Model, smooth: bool) -> json::Root {
        let root = &mut self.root;
        root.buffers[0].byte_length = USize64::from(self.bytes);
        root.push(land(model.textures.is_some(), smooth));
        if self.parts.len() > 1 {
            root.push(plain("sides", [0.16, 0.14, 0.13, 1.0]));
        }
        let mesh = root.push(json::Mesh {
            name: Some(model.name.to_owned()),
            primitives: std::mem::take(&mut self.parts),
            weights: None,
            extensions: None,
            extras: json::Extras::default(),
        });
        let node = root.push(json::Node {
            mesh: Some(mesh),
            name: Some(model.name.to_owned()),
            ..json::Node::default()
        });
        let scene = root.push(json::Scene {
            name: None,
            nodes: vec![node],
            extensions: None,
            extras: json::Extras::default(),
        });
        root.scene = Some(scene);
        root.clone()
    }
}

/// A matt material of one colour, linear.
fn plain(name: &str, colour: [f32; 4]) -> Material {
    let mut material = Material {
        name: Some(name.to_owned()),
        ..Material::default()
    };
    let surface = &mut material.pbr_metallic_roughness;
    surface.base_color_factor = PbrBaseColorFactor(colour);
    surface.metallic_factor = StrengthFactor(0.0);
    surface.roughness_factor = StrengthFactor(1.0);
    material
}

/// The material of the land, with the pictures that are there.
fn land(textured: bool, smooth: bool) -> Material {
    if !textured {
        return plain("land", [0.3, 0.3, 0.3, 1.0]);
    }
    let picture = |index: u32| json::texture::Info {
        index: Index::new(index),
        tex_coord: 0,
        extensions: None,
        extras: json::Extras::default(),
    };
    let mut material = plain("land", [1.0; 4]);
    let surface = &mut material.pbr_metallic_roughness;
    surface.base_color_texture = Some(picture(0));
    surface.metallic_roughness_texture = Some(picture(2));
    material.normal_texture = smooth.then(|| json::material::NormalTexture {
        index: Index::new(1),
        scale: 1.0,
        tex_coord: 0,
        extensions: None,
        extras: json::Extras::default(),
    });
    material.occlusion_texture = Some(json::material::OcclusionTexture {
        index: Index::new(2),
        strength: StrengthFactor(1.0),
        tex_coord: 0,
        extensions: None,
        extras: json::Extras::default(),
    });
    material
}
