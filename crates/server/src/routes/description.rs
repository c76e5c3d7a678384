//! The API's description for whoever builds on it: what every operation answers, needs, and
//! belongs to.

use crate::http::access::ROUTES;
use tally_core::school::access::Right;
use utoipa::openapi::content::Content;
use utoipa::openapi::path::{Operation, PathItem};
use utoipa::openapi::security::{
    ApiKey, ApiKeyValue, HttpAuthScheme, HttpBuilder, SecurityRequirement, SecurityScheme,
};
use utoipa::openapi::tag::TagBuilder;
use utoipa::openapi::{
    Components, ContentBuilder, KnownFormat, ObjectBuilder, OpenApi, Ref, RefOr, ResponseBuilder,
    Schema, SchemaFormat, Server, Type,
};

/// Name of the way to be known: the cookie that signing in sets.
const SIGNED_IN: &str = "signed_in";
const SCRIPT: &str = "script";
/// Where every route stands.
const ROOT: &str = "/api/v1";

/// What belongs together: the beginnings of paths, what it is called, and what it is about.
const TAGS: [(&str, &str, &[&str]); 9] = [
    (
        "Signing in",
        "Who one is, by a cookie; a second factor and new passwords.",
        &["/set-up", "/sign-in", "/new-password", "/me"],
    ),
    (
        "School",
        "People, rights, rules, what is looked at today, and what may be found by name.",
        &[
            "/people",
            "/school",
            "/audit",
            "/house-rules",
            "/warm-up-list",
            "/reference-levels",
            "/today",
            "/find",
            "/vocabulary",
            "/groups",
            "/club-length",
        ],
    ),
    (
        "Sessions",
        "Planning, hitting, reading and putting right what was hit at a time.",
        &[
            "/sessions",
            "/plan-templates",
            "/live",
            "/boards",
            "/decisions",
        ],
    ),
    (
        "Players",
        "Facts, bag, consent, record, progress and comparisons of a player.",
        &["/players", "/roster"],
    ),
    (
        "Shots in and out",
        "Files of shots, what they leave open, and tables of what is kept.",
        &["/imports", "/import-previews", "/shots", "/balls"],
    ),
    (
        "Devices",
        "Launch monitors and plates, how well they agree, and doubtful readings.",
        &[
            "/devices",
            "/device-shots",
            "/device-line",
            "/agreement",
            "/device-pairs",
            "/doubtful",
        ],
    ),
    (
        "Bench",
        "What speeds, lofts and launches should give, without any player.",
        &["/bench"],
    ),
    (
        "Training",
        "Implements, protocols, programmes and their sessions.",
        &[
            "/implements",
            "/protocols",
            "/programmes",
            "/runs",
            "/training",
            "/calendars",
        ],
    ),
    (
        "Pages and links",
        "What a player takes home, open to whoever has the link.",
        &["/pages", "/shared", "/calendar"],
    ),
];

/// What any route may refuse: status, name, and why.
const REFUSALS: [(&str, &str, &str); 8] = [
    ("400", "Unreadable", "What was sent cannot be read"),
    ("401", "NotSignedIn", "Nobody is signed in"),
    ("403", "NotAllowed", "Not allowed to whoever is signed in"),
    (
        "404",
        "NotHere",
        "There is no such thing, or not for whoever asks",
    ),
    ("409", "Contradicts", "It contradicts what is there"),
    (
        "422",
        "Unusable",
        "Fields that cannot be used, each with its value and remedy",
    ),
    ("429", "TooOften", "Too often; `Retry-After` says when"),
    ("503", "NotNow", "Not just now; `Retry-After` says when"),
];

/// Adds to a description what its routes do not say themselves.
pub fn complete(mut api: OpenApi) -> OpenApi {
    api.servers = Some(vec![Server::new("/")]);
    let tags = TAGS.iter().map(|(name, about, _)| {
        TagBuilder::new()
            .name(*name)
            .description(Some(*about))
            .build()
    });
    api.tags = Some(tags.collect());
    let cookie = ApiKeyValue::with_description(
        "__Host-amber-tally",
        "Set by signing in; over plain HTTP on loopback it is called `amber-tally`.",
    );
    let components = api.components.get_or_insert_with(Components::new);
    components.add_security_scheme(SIGNED_IN, SecurityScheme::ApiKey(ApiKey::Cookie(cookie)));
    let bearer = HttpBuilder::new()
        .scheme(HttpAuthScheme::Bearer)
        .description(Some(
            "A token that somebody makes for a script under their initials.",
        ));
    components.add_security_scheme(SCRIPT, SecurityScheme::Http(bearer.build()));
    for (_, name, why) in REFUSALS {
        let problem = ContentBuilder::new()
            .schema(Some(Ref::from_schema_name("Problem")))
            .build();
        let refusal = ResponseBuilder::new()
            .description(why)
            .content("application/problem+json", problem)
            .build();
        components
            .responses
            .insert(name.to_owned(), RefOr::T(refusal));
    }
    for (path, item) in &mut api.paths.paths {
        let short = path.strip_prefix(ROOT).unwrap_or(path).to_owned();
        for (method, operation) in operations(item) {
            complete_operation(operation, method, &short);
        }
    }
    api
}

fn operations(item: &mut PathItem) -> impl Iterator<Item = (&'static str, &mut Operation)> {
    [
        ("GET", item.get.as_mut()),
        ("PUT", item.put.as_mut()),
        ("POST", item.post.as_mut()),
        ("DELETE", item.delete.as_mut()),
        ("PATCH", item.patch.as_mut()),
    ]
    .into_iter()
    .filter_map(|(method, operation)| Some((method, operation?)))
}

fn complete_operation(operation: &mut Operation, method: &str, path: &str) {
    operation.tags = Some(vec![tag_of(path).to_owned()]);
    let right = ROUTES
        .iter()
        .find(|(of, route, _)| *of == method && *route == path)
        .map(|(.., right)| *right);
    operation.security = Some(match right {
        Some(Right::Open) => Vec::new(),
        _ => [SIGNED_IN, SCRIPT]
            .map(|by| SecurityRequirement::new::<_, [&str; 0], &str>(by, []))
            .to_vec(),
    });
    if let Some(RefOr::T(body)) = &mut operation.request_body {
        for (kind, content) in &mut body.content {
            as_bytes(kind, content);
        }
    }
    for (status, response) in &mut operation.responses.responses {
        let RefOr::T(response) = response else {
            continue;
        };
        if response.description.is_empty() {
            response.description = match status.as_str() {
                "200" => "What was asked for",
                "201" => "It is there now; the same again changes nothing",
                "204" => "Done",
                "304" => "As it was when it was asked for last",
                _ => "See the status",
            }
            .to_owned();
        }
        for (kind, content) in &mut response.content {
            as_bytes(kind, content);
        }
    }
    // Bodies that do not come and rights that are missing answer alike everywhere.
    for (status, name, _) in REFUSALS {
        let open = matches!(right, Some(Right::Open));
        if !(open && matches!(status, "401" | "403")) {
            let all = &mut operation.responses.responses;
            let refusal = || RefOr::Ref(Ref::from_response_name(name));
            all.entry(status.to_owned()).or_insert_with(refusal);
        }
    }
}

/// Bytes are told as such: a text of them would be read as JSON.
fn as_bytes(kind: &str, content: &mut RefOr<Content>) {
    let RefOr::T(content) = content else {
        return;
    };
    if kind != "application/octet-stream" {
        return;
    }
    let bytes = ObjectBuilder::new()
        .schema_type(Type::String)
        .format(Some(SchemaFormat::KnownFormat(KnownFormat::Binary)));
    content.schema = Some(RefOr::T(Schema::Object(bytes.build())));
}

fn tag_of(path: &str) -> &'static str {
    let begins = |(_, _, paths): &&(_, _, &[&str])| {
        paths.iter().any(|begin| {
            path.strip_prefix(begin)
                .is_some_and(|rest| rest.is_empty() || rest.starts_with(['/', '.']))
        })
    };
    let found = TAGS.iter().find(begins).map(|(name, ..)| *name);
    found.unwrap_or("School")
}
