//! The description of the API: whole for whoever makes a client from it, and true.

use crate::stage::Stage;
use serde_json::{Value, json};
use std::collections::BTreeSet;

async fn description(stage: &Stage) -> Value {
    let url = format!("{}/api/openapi.json", stage.web);
    let told = stage.http.get(url).send().await.unwrap();
    told.json().await.unwrap()
}

/// Every operation with its path and method.
fn operations(description: &Value) -> Vec<(String, String, &Value)> {
    let paths = description["paths"].as_object().unwrap().iter();
    paths
        .flat_map(|(path, item)| {
            let each = item.as_object().unwrap().iter();
            each.map(move |(method, operation)| (path.clone(), method.clone(), operation))
        })
        .collect()
}

#[tokio::test(flavor = "multi_thread")]
async fn the_description_leaves_nothing_out_that_a_client_is_made_from() {
    let stage = Stage::bare().await;
    let description = description(&stage).await;
    let mut names = BTreeSet::new();
    let tags: Vec<&Value> = description["tags"]
        .as_array()
        .unwrap()
        .iter()
        .map(|t| &t["name"])
        .collect();
    for (path, method, operation) in operations(&description) {
        let at = format!("{method} {path}");
        assert!(
            names.insert(operation["operationId"].to_string()),
            "{at}: its name is another's"
        );
        assert!(operation["summary"].is_string(), "{at}");
        assert!(
            tags.contains(&&operation["tags"][0]),
            "{at}: {}",
            operation["tags"]
        );
        assert!(operation["security"].is_array(), "{at}");
        for (status, response) in operation["responses"].as_object().unwrap() {
            let told = response["description"]
                .as_str()
                .is_some_and(|told| !told.is_empty());
            assert!(told || response["$ref"].is_string(), "{at}: {status}");
        }
        for parameter in operation["parameters"].as_array().into_iter().flatten() {
            let named = path.contains(&format!("{{{}}}", parameter["name"].as_str().unwrap()));
            assert_eq!(parameter["in"] == "path", named, "{at}: {parameter}");
        }
    }
    // What is referred to is there.
    let text = description.to_string();
    for reference in text.split("\"$ref\":\"#").skip(1) {
        let pointer = reference.split('"').next().unwrap();
        assert!(description.pointer(pointer).is_some(), "{pointer}");
    }
    stage.clear().await;
}

#[tokio::test(flavor = "multi_thread")]
async fn what_is_answered_is_what_is_described() {
    let stage = Stage::demo().await;
    let description = description(&stage).await;
    let (_, players) = stage.get("/players").await;
    let player = players
        .as_array()
        .unwrap()
        .iter()
        .find(|p| p["name"] == "Bram Lindqvale")
        .unwrap();
    let (_, told) = stage
        .get(&format!("/players/{}", player["id"].as_str().unwrap()))
        .await;
    let ids = [
        ("{player}", player["id"].as_str().unwrap().to_owned()),
        (
            "{session}",
            told["sessions"][0]["id"].as_str().unwrap().to_owned(),
        ),
    ];
    let mut checked = 0;
    for (path, method, operation) in operations(&description) {
        let schema = &operation["responses"]["200"]["content"]["application/json"]["schema"];
        let required = operation["parameters"].as_array().into_iter().flatten();
        let needs = required
            .filter(|p| p["in"] == "query" && p["required"] == true)
            .count();
        let filled = ids
            .iter()
            .fold(path.clone(), |path, (name, id)| path.replace(name, id));
        if method != "get" || schema.is_null() || needs > 0 || filled.contains('{') {
            continue;
        }
        let (status, answer) = stage.get(filled.trim_start_matches("/api/v1")).await;
        if status != 200 {
            // A session of one kind has no views of another.
            assert!(
                [404, 409, 422].contains(&status),
                "{path}: {status} {answer}"
            );
            continue;
        }
        let schema = json!({"allOf": [schema], "components": description["components"]});
        let validator = jsonschema::validator_for(&schema).unwrap();
        let wrong: Vec<String> = validator
            .iter_errors(&answer)
            .take(3)
            .map(|error| format!("{} at {}", error, error.instance_path()))
            .collect();
        assert!(wrong.is_empty(), "{path}: {wrong:#?}");
        checked += 1;
    }
    assert!(checked > 30, "only {checked} were checked");
    stage.clear().await;
}
