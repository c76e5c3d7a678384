//! The web application is embedded from `web/dist`; before it is first built, an
//! empty folder stands in for it and the server says so.

fn main() {
    let dist = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/dist");
    if let Err(error) = std::fs::create_dir_all(dist) {
        println!("cargo::error=cannot make web/dist: {error}");
    }
    println!("cargo::rerun-if-changed={dist}");
}
