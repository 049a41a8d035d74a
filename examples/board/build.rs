//! Puts the catalogs into the program, which then needs no files.

fn main() -> std::io::Result<()> {
    crow_fly_embed::catalogs("catalogs")
}
