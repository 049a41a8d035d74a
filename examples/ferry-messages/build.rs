//! Makes a type for each message of the demo.

fn main() {
    crow_fly_codegen::Catalogs::of("../ferry/catalogs", "en").build();
}
