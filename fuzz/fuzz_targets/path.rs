#![no_main]

#[path = "../targets.rs"]
#[allow(dead_code, reason = "each target is one of them")]
mod targets;

libfuzzer_sys::fuzz_target!(|data: &[u8]| targets::path(data));
