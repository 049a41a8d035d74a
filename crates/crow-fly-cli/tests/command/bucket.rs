//! Releases in a bucket, over the S3 protocol.

use std::io::{Read, Write};
use std::net::TcpStream;

use assert_cmd::Command;

use crate::program::{Program, free_port};
use crate::project::Project;

#[test]
fn publishes_to_a_bucket() {
    let port = free_port();
    let mut server = std::process::Command::new("moto_server");
    server.args(["-H", "127.0.0.1", "-p", &port.to_string()]);
    let Some(_server) = Program::start(&mut server, "moto[server]", port) else { return };
    let mut stream = TcpStream::connect(("127.0.0.1", port)).unwrap();
    stream
        .write_all(
            b"PUT /ferries HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 0\r\nConnection: close\r\n\r\n",
        )
        .unwrap();
    let mut answer = String::new();
    stream.read_to_string(&mut answer).unwrap();
    assert!(answer.starts_with("HTTP/1.1 200"), "{answer}");

    let project =
        Project::new("default = 'en'\nlocales = ['en']\n", &[("en/home.toml", "title = 'Ferries'")]);
    let run = |arguments: &[&str]| {
        let mut command = Command::cargo_bin("crow-fly").unwrap();
        let command = command.current_dir(project.folder()).args(arguments).envs([
            ("AWS_ACCESS_KEY_ID", "made-up"),
            ("AWS_SECRET_ACCESS_KEY", "made-up"),
            ("AWS_REGION", "eu-west-2"),
            ("AWS_ENDPOINT", &format!("http://127.0.0.1:{port}")),
            ("AWS_ALLOW_HTTP", "true"),
            ("NO_PROXY", "127.0.0.1"),
        ]);
        let output = command.output().unwrap();
        assert!(output.status.success(), "{output:?}");
        String::from_utf8(output.stdout).unwrap()
    };
    let store = ["--store", "s3://ferries/site"];
    assert!(
        run(&[&["release", "publish", "--activate"][..], &store].concat())
            .contains("is active: activation 1")
    );
    assert!(run(&[&["release", "list"][..], &store].concat()).contains("active"));
    assert!(
        run(&[&["release", "compare", "active"][..], &store].concat())
            .contains("0 new, 0 changed, 0 deleted")
    );
}
