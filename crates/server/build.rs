//! Rebuilds when the web build changes, since the binary carries it.

fn main() {
    println!("cargo::rerun-if-changed=../../web/dist");
}
