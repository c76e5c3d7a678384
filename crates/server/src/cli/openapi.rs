//! `amber-tally openapi`: the description that the browser's client is made from.

/// The OpenAPI description as indented JSON.
pub fn run() -> String {
    let (_, description) = crate::routes::described();
    description
        .to_pretty_json()
        .expect("the description is plain data")
}
