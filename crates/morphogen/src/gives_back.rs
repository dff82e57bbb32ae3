//! Memory goes back to the machine as soon as it is not used.
//!
//! Fields of a land are tens to hundreds of megabytes, and come and go. glibc hands out a
//! large block as pages of its own, which go back when it is freed; but with each one that is
//! freed it raises what counts as large, up to 32 MB, and from then on keeps such blocks in a
//! heap with holes. At 2048² that held a third more than was in use. The bound stays where it
//! is when it is given, which glibc reads from the environment when a program starts; huge
//! pages make up for what fresh ones take.

use std::env;
use std::io;
use std::os::unix::process::CommandExt;
use std::process::Command;

/// glibc's settings: blocks of 8 MiB and more are pages of their own, huge ones where the
/// machine has them.
const SETTINGS: (&str, &str) = (
    "GLIBC_TUNABLES",
    "glibc.malloc.mmap_threshold=8388608:glibc.malloc.hugetlb=1",
);

/// Begins the program anew, as the same process, with the settings in its environment; nothing
/// when there are some, whatever they say, or when the allocator is not glibc's.
///
/// # Errors
/// When the program cannot be begun anew; it goes on as well, with more memory.
pub fn with_pages_of_their_own() -> io::Result<()> {
    let (name, value) = SETTINGS;
    if !cfg!(target_env = "gnu") || env::var_os(name).is_some() {
        return Ok(());
    }
    let mut arguments = env::args_os();
    let mut anew = Command::new(env::current_exe()?);
    if let Some(called) = arguments.next() {
        anew.arg0(called);
    }
    Err(anew.args(arguments).env(name, value).exec())
}
