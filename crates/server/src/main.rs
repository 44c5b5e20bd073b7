//! Rumek.
fn main() {}
