//! Puts the catalogs, and the data of their languages, into the program, which then needs no files.

fn main() -> std::io::Result<()> {
    crow_fly_embed::catalogs("catalogs")?;
    crow_fly_embed::locale_data(["en", "cy", "pl"])
}
