//! Browsers that speak TLS with the server itself.

use crate::stage::{OWNER, PASSWORD, Stage, hello, shot};
use serde_json::json;
use std::net::SocketAddr;
use std::path::PathBuf;
use std::sync::Arc;
use tally_server::server::{Config, Server, StartError};
use tokio::io::{AsyncBufReadExt, AsyncRead, AsyncReadExt, AsyncWrite, AsyncWriteExt, BufReader};
use tokio::net::TcpStream;
use tokio_rustls::TlsConnector;
use tokio_rustls::client::TlsStream;
use tokio_rustls::rustls::pki_types::{CertificateDer, ServerName};
use tokio_rustls::rustls::{ClientConfig, RootCertStore};

/// A certificate and its key as files, and as a browser trusts it.
fn certificate() -> (PathBuf, PathBuf, CertificateDer<'static>) {
    let made = rcgen::generate_simple_self_signed(["localhost".to_owned()]).unwrap();
    let folder = std::env::temp_dir().join(format!("tally-tls-{}", uuid::Uuid::now_v7()));
    std::fs::create_dir(&folder).unwrap();
    let (file, key) = (folder.join("certificate.pem"), folder.join("key.pem"));
    std::fs::write(&file, made.cert.pem()).unwrap();
    std::fs::write(&key, made.signing_key.serialize_pem()).unwrap();
    (file, key, made.cert.der().clone())
}

async fn connected(address: SocketAddr, trusted: CertificateDer<'static>) -> TlsStream<TcpStream> {
    let mut roots = RootCertStore::empty();
    roots.add(trusted).unwrap();
    let client = ClientConfig::builder().with_root_certificates(roots);
    let connector = TlsConnector::from(Arc::new(client.with_no_client_auth()));
    let stream = TcpStream::connect(address).await.unwrap();
    let name = ServerName::try_from("localhost").unwrap();
    connector.connect(name, stream).await.unwrap()
}

/// What is answered to a request over TLS, as it is sent.
async fn asked(address: SocketAddr, trusted: CertificateDer<'static>, request: &str) -> String {
    let mut stream = connected(address, trusted).await;
    stream.write_all(request.as_bytes()).await.unwrap();
    let mut answer = Vec::new();
    // Some servers hang up without a farewell once they have said everything.
    let _ = stream.read_to_end(&mut answer).await;
    String::from_utf8_lossy(&answer).into_owned()
}

#[tokio::test(flavor = "multi_thread")]
async fn with_a_certificate_the_cookie_goes_over_tls_alone() {
    let stage = Stage::bare().await;
    let (file, key, trusted) = certificate();
    let config = Config {
        certificate: Some((file.clone(), key.clone())),
        ..Config::local(&stage.url)
    };
    let server = Server::start(&config).await.unwrap();
    assert_eq!(server.scheme(), "https");
    let address = server.web_address().unwrap();
    let serving = tokio::spawn(async move { server.run().await.is_ok() });
    let body = json!({"sign_in_name": OWNER, "password": PASSWORD}).to_string();
    let sign_in = format!(
        "POST /api/v1/sign-in HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\nContent-Type: application/json\r\nContent-Length: {}\r\n\r\n{body}",
        body.len()
    );
    let answer = asked(address, trusted, &sign_in).await;
    assert!(answer.starts_with("HTTP/1.1 204"), "{answer}");
    for part in [
        "strict-transport-security: max-age=",
        "set-cookie: __Host-amber-tally=",
        "; Secure",
    ] {
        assert!(answer.contains(part), "{part} is missing in {answer}");
    }
    // In the clear it says nothing at all.
    let clear = reqwest::get(format!("http://{address}/healthz")).await;
    assert!(clear.is_err());
    serving.abort();
    std::fs::remove_dir_all(file.parent().unwrap()).unwrap();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn a_certificate_that_cannot_be_used_keeps_the_server_from_starting_and_names_its_files() {
    let stage = Stage::bare().await;
    let (file, key, _) = certificate();
    std::fs::write(&key, "not a key").unwrap();
    let config = Config {
        certificate: Some((file.clone(), key.clone())),
        ..Config::local(&stage.url)
    };
    let error = match Server::start(&config).await {
        Err(error @ StartError::Certificate { .. }) => error.to_string(),
        Err(other) => panic!("{other}"),
        Ok(_) => panic!("it starts"),
    };
    assert!(error.contains(&key.display().to_string()), "{error}");
    std::fs::remove_dir_all(file.parent().unwrap()).unwrap();
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn with_a_certificate_devices_speak_tls_or_plain_text_on_one_port() {
    let stage = Stage::with_session().await;
    let (file, key, trusted) = certificate();
    let config = Config {
        certificate: Some((file.clone(), key.clone())),
        ..Config::local(&stage.url)
    };
    let server = Server::start(&config).await.unwrap();
    let address = server.intake_address();
    let serving = tokio::spawn(async move { server.run().await.is_ok() });
    let (stream, plain) = (
        connected(address, trusted).await,
        TcpStream::connect(address),
    );
    let said = [hello(), shot(1, 90.0)]
        .map(|line| format!("{line}\n"))
        .concat();
    let heard = spoken(stream, &said).await;
    assert_eq!(types(&heard), ["welcome", "ack"], "{heard}");
    let again = spoken(plain.await.unwrap(), &said).await;
    assert_eq!(types(&again), ["welcome", "ack"], "{again}");
    assert!(again.contains("\"again\":true"), "{again}");
    serving.abort();
    std::fs::remove_dir_all(file.parent().unwrap()).unwrap();
    stage.clear().await;
}

/// What is answered to these lines, one for each.
async fn spoken(mut stream: impl AsyncRead + AsyncWrite + Unpin, lines: &str) -> String {
    stream.write_all(lines.as_bytes()).await.unwrap();
    stream.flush().await.unwrap();
    let mut heard = String::new();
    let mut answers = BufReader::new(stream);
    for _ in lines.lines() {
        answers.read_line(&mut heard).await.unwrap();
    }
    heard
}

fn types(answers: &str) -> Vec<String> {
    let of = |line: &str| serde_json::from_str::<serde_json::Value>(line).unwrap();
    answers
        .lines()
        .map(|line| of(line)["type"].as_str().unwrap().to_owned())
        .collect()
}
