//! `amber-tally openapi`: the description that the browser's client is made from.

/// The OpenAPI description as indented JSON.
pub fn run() -> String {
    let description = crate::routes::api().into_openapi();
    description
        .to_pretty_json()
        .expect("the description is plain data")
}
