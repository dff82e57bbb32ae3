//! What it takes: memory, time, and room on the disk.

use super::{Finding, Looked, Outlook, Weight};
use crate::{ColourFormat, Detail, Layer, MeshFormat};

const MIB: f64 = (1_u64 << 20) as f64;
/// A picture of land takes about this share of its pixels' bytes, deflated: measured.
const DEFLATED: f64 = 0.6;
/// Fields that a land takes while it is written.
const FIELDS: f64 = 8.0;
/// Written in a second, about, bytes.
const BYTES_A_SECOND: f64 = 1e8;

/// More than the target takes.
pub(super) fn too_large(looked: &Looked) -> Option<Finding> {
    let most = looked.bounds.most_mib?;
    let mib = file_bytes(looked) / MIB;
    if mib <= most {
        return None;
    }
    // Files grow with the square of the side.
    let cells = (looked.order.cells as f64 * (most / mib).sqrt()).floor() as usize;
    let rounded = match looked.bounds.grid {
        // Half the side is a grid of the same kind.
        Some(_) => looked.order.cells.div_ceil(2),
        None => cells.max(2),
    };
    Some(looked.found(
        ("size", Weight::Wrong),
        format!("All files together have about {mib:.0} MiB, the target takes {most:.0}."),
        (format!("{rounded} cells"), |wish| wish.cells = rounded),
    ))
}

/// What this machine would refuse to make.
pub(super) fn cannot_be_made(looked: &Looked) -> Option<Finding> {
    let (finding, cells) = match &looked.expense {
        Err(refused) => (refused.to_string(), refused.cells),
        Ok(_) => {
            let bytes = looked.grower.budget().bytes;
            let admitted = looked
                .order
                .mesh
                .admit(looked.recipe, looked.order.cells, bytes);
            match admitted {
                Err(refused) if looked.order.layers.contains(&Layer::Mesh) => {
                    (format!("mesh: {refused}"), Some(looked.order.cells / 2))
                }
                _ => return None,
            }
        }
    };
    let finding = format!("{finding}.");
    Some(match cells.filter(|cells| *cells >= 2) {
        Some(cells) => looked.found(
            ("machine", Weight::Wrong),
            finding,
            (format!("{cells} cells"), |wish| wish.cells = cells),
        ),
        None => Finding {
            rule: "machine",
            weight: Weight::Wrong,
            finding,
            fix: None,
        },
    })
}

/// What will come of it, when it can be made.
pub(super) fn outlook(looked: &Looked) -> Option<Outlook> {
    let expense = looked.expense.as_ref().ok()?;
    let file_bytes = file_bytes(looked);
    let fields = FIELDS * 4.0 * looked.frame.cells() as f64;
    let kept = match looked.order.colour {
        ColourFormat::Png => 0.0,
        _ => 12.0 * looked.frame.cells() as f64,
    };
    Some(Outlook {
        cols: looked.frame.cols,
        rows: looked.frame.rows,
        cell_m: looked.frame.cell_m,
        file_bytes,
        memory_bytes: expense.bytes.max(fields) + kept,
        seconds: expense.seconds + file_bytes / BYTES_A_SECOND,
        step_m: looked.step_m(),
    })
}

/// All files together, about, bytes.
fn file_bytes(looked: &Looked) -> f64 {
    let cells = looked.frame.cells() as f64;
    let covers = looked
        .recipe
        .covers
        .iter()
        .filter(|cover| cover.on)
        .count()
        .max(1) as f64;
    let field = looked.order.fields.bytes_a_value();
    let maps = looked.order.layers.iter().map(|layer| {
        let each = match layer {
            Layer::Mesh | Layer::Recipe => 0.0,
            Layer::Height | Layer::Slope | Layer::Product(_) | Layer::Mask(_) => field,
            Layer::Height16 | Layer::Displacement => 2.0 * DEFLATED,
            Layer::Occlusion | Layer::Roughness | Layer::Id | Layer::Hillshade => DEFLATED,
            Layer::Weights => 4.0 * (covers / 4.0).ceil() * DEFLATED,
            Layer::Covers => 2.0 * covers * DEFLATED,
            Layer::Albedo if looked.order.colour == ColourFormat::Exr => 9.0,
            Layer::Albedo if looked.order.colour == ColourFormat::ExrHalf => 5.0,
            Layer::Albedo | Layer::Normal | Layer::NormalDown | Layer::Plan => 3.0 * DEFLATED,
        };
        each * cells
    });
    let packed = looked.order.packed.iter();
    let packed = packed.map(|(_, channels)| channels.len() as f64 * DEFLATED * cells);
    let mesh = match looked.order.layers.contains(&Layer::Mesh) {
        true => mesh_bytes(looked),
        false => 0.0,
    };
    maps.chain(packed).sum::<f64>() + mesh
}

fn mesh_bytes(looked: &Looked) -> f64 {
    let all = 2.0 * looked.frame.cells() as f64;
    let triangles = match (looked.triangles(), looked.order.mesh.detail) {
        (Some(triangles), _) => triangles,
        (None, Detail::Within(_)) => 0.1 * all,
        (None, _) => all,
    };
    // Half as many vertices as triangles.
    let each = match looked.order.mesh.format {
        MeshFormat::Glb => 28.0,
        MeshFormat::Obj => 80.0,
        MeshFormat::Ply => 25.0,
        MeshFormat::Stl => 50.0,
    };
    // Coarser levels add a third.
    let levels = if looked.order.mesh.levels > 1 {
        4.0 / 3.0
    } else {
        1.0
    };
    let textures = looked.order.mesh.textures.map_or(0.0, |cells| {
        9.0 * DEFLATED * (cells as f64).powi(2) * looked.frame.cells() as f64
            / (looked.order.cells as f64).powi(2)
    });
    triangles * each * levels + textures
}
