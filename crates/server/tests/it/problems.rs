//! What whoever asks is told of what went wrong.

use axum::http::header;
use axum::response::IntoResponse;
use tally_core::vocabulary::invalid::Invalid;
use tally_server::http::problem::Problem;
use tally_store::base::error::StoreError;

#[test]
fn whoever_asks_is_told_what_to_do_and_nothing_of_the_database() {
    let inside = "relation \"credential\" at 10.0.0.7";
    for (error, status, told) in [
        (StoreError::NotFound("player"), 404, "no such player"),
        (
            StoreError::Conflict("somebody is called so".into()),
            409,
            "called so",
        ),
        (StoreError::Unreachable(inside.into()), 503, "try again"),
        (StoreError::Full(inside.into()), 507, "free room"),
        (
            StoreError::Migration(inside.into()),
            500,
            "nothing was changed",
        ),
    ] {
        let problem = Problem::from(error);
        assert_eq!(problem.status, status, "{problem:?}");
        assert!(problem.detail.contains(told), "{problem:?}");
        let whole = serde_json::to_string(&problem).unwrap();
        assert!(
            !whole.contains("credential") && !whole.contains("10.0"),
            "{whole}"
        );
    }
}

#[test]
fn whoever_finds_the_database_away_is_told_when_to_ask_again() {
    let told = Problem::from(StoreError::Unreachable("no room".into())).into_response();
    assert_eq!(told.headers()[header::RETRY_AFTER], "2");
}

#[test]
fn every_field_at_fault_is_named_with_its_value_and_remedy() {
    let wrong = |field: &str| Invalid::new(field, "-3", "is below 1", "give 1 or more");
    let problem = Problem::from(vec![wrong("shots"), wrong("blocks")]);
    assert_eq!(problem.status, 422);
    let json = serde_json::to_value(&problem).unwrap();
    for (i, field) in ["shots", "blocks"].into_iter().enumerate() {
        let error = &json["errors"][i];
        assert_eq!(
            (&error["field"], &error["value"]),
            (&field.into(), &"-3".into())
        );
        assert_eq!(error["remedy"], "give 1 or more");
        assert!(problem.detail.contains(field), "{problem:?}");
    }
    let response = problem.into_response();
    assert_eq!(
        response.headers()[header::CONTENT_TYPE],
        "application/problem+json"
    );
}
