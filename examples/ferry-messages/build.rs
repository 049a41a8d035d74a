//! Makes a type for each message of the demo, and the declarations for its scripts.

fn main() {
    let sections = ["common", "home", "sailing", "trip"];
    crow_fly_codegen::Catalogs::of("../ferry/catalogs", "en")
        .declarations("../ferry/messages.d.ts", sections)
        .build();
}
