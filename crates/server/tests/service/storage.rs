//! How edits are kept: patches, now and then the whole, and databases of before.

use std::borrow::Cow;
use std::time::{Duration, Instant};

use recipe::Recipe;
use reqwest::StatusCode;
use serde_json::{Value, json};
use sqlx::{Connection, Executor, PgConnection};

use crate::support::{HEIGHT, Service, detail, new_database};

async fn connected(service: &Service) -> PgConnection {
    PgConnection::connect(&service.database)
        .await
        .expect("connects")
}

/// Storage grows with what was typed: patches, and whole documents no more than
/// patches.
#[tokio::test(flavor = "multi_thread")]
async fn storage_is_linear_in_what_was_typed_and_every_revision_can_be_seen() {
    const EDITS: i64 = 300;
    let service = Service::start().await;
    let demo = service.demo().await;
    let whole = service.head(&demo).await["recipe"].to_string().len() as i64;
    for k in 0..EDITS {
        let kept = service.set(&demo, HEIGHT, json!(500.5 + k as f64)).await;
        assert_eq!(kept.status(), StatusCode::OK);
    }
    let sums = "select coalesce(sum(length(patch::text)), 0)::bigint,
                       coalesce(sum(length(snapshot::text)), 0)::bigint from revisions";
    let mut connection = connected(&service).await;
    let (typed, kept): (i64, i64) = sqlx::query_as(sums)
        .fetch_one(&mut connection)
        .await
        .expect("sums");
    assert!(typed < EDITS * 200, "{typed} bytes of patches");
    assert!(
        kept <= 2 * whole + typed,
        "{kept} bytes of whole documents, {typed} typed"
    );
    // Any revision, wherever the last whole document before it is.
    for revision in [1, 2, 77, 150, 299] {
        let back = format!("/api/landscapes/{demo}/return");
        let returned = service.post(&back, &json!({ "revision": revision })).await;
        assert_eq!(returned.status(), StatusCode::OK);
        let expected = 498.5 + revision as f64;
        let height = service.head(&demo).await["recipe"].pointer(HEIGHT).cloned();
        if revision > 1 {
            assert_eq!(height, Some(json!(expected)), "revision {revision}");
        }
    }
}

/// A landscape of 100,000 revisions opens, lists and goes back within 200 ms each.
#[tokio::test(flavor = "multi_thread")]
async fn a_hundred_thousand_revisions_are_no_weight() {
    let service = Service::start().await;
    let demo = service.demo().await;
    // As the service would have made them: a patch each, and the whole when as much
    // was typed since the last.
    let many = format!(
        "do $$
        declare whole json; size int; each int := 74; every int;
        begin
            select document into whole from landscapes where id = '{demo}';
            size := length(whole::text); every := size / each;
            insert into revisions (landscape, number, parent, label, patch, snapshot, patched)
            select '{demo}', n, n - 1, 'Height', json_build_array(json_build_object(
                       'op', 'replace', 'path', '{HEIGHT}', 'value', 500.0 + n % 1000)),
                   case when n % every = 0 then whole end, (n % every) * each
            from generate_series(2, 100000) n;
            update landscapes set head = 100000, made = 100000, version = 100000
            where id = '{demo}';
        end $$"
    );
    let mut connection = connected(&service).await;
    connection
        .execute(sqlx::AssertSqlSafe(many))
        .await
        .expect("made");
    connection
        .execute("analyze revisions")
        .await
        .expect("known to the planner");
    // Nothing that was kept in memory helps.
    let service = service.restarted().await;
    let undo = format!("/api/landscapes/{demo}/undo");
    let since = Instant::now();
    let head = service.head(&demo).await;
    let opened = since.elapsed();
    assert_eq!(head["revision"], 100_000);
    let since = Instant::now();
    service
        .get(&format!("/api/landscapes/{demo}/revisions"))
        .await;
    let listed = since.elapsed();
    let since = Instant::now();
    let undone = service.post(&undo, &json!({})).await;
    let undone_in = since.elapsed();
    assert_eq!(undone.status(), StatusCode::OK);
    println!("opened in {opened:?}, listed in {listed:?}, undone in {undone_in:?}");
    for took in [opened, listed, undone_in] {
        assert!(took < Duration::from_millis(200), "{took:?}");
    }
}

/// Revisions of a landscape are counted for it alone.
#[tokio::test(flavor = "multi_thread")]
async fn a_new_landscape_begins_at_revision_one() {
    let service = Service::start().await;
    let demo = service.demo().await;
    service.set(&demo, HEIGHT, json!(700.0)).await;
    let flat = json!({ "flat": { "width_m": 900, "depth_m": 900 } });
    let head = service.head(&service.make("Flat", flat).await).await;
    assert_eq!(
        (&head["revision"], &head["version"]),
        (&json!(1), &json!(1))
    );
}

/// A database of the version before has whole documents and one count for all.
#[tokio::test(flavor = "multi_thread")]
async fn a_database_of_before_is_brought_up_to_date() {
    let database = new_database().await;
    let mut connection = PgConnection::connect(&database).await.expect("connects");
    let mut before = sqlx::migrate!();
    let old = before.iter().filter(|m| m.version <= 2).cloned().collect();
    before.migrations = Cow::Owned(old);
    before
        .run(&mut connection)
        .await
        .expect("the tables of before");
    let recipe = |name: &str| {
        format!(
            r#"{{ "version": 1, "name": "{name}", "extent": {{ "width_m": 800, "depth_m": 400 }},
                "strands": [{{ "name": "land", "steps": [] }}], "covers": [] }}"#
        )
    };
    let (a, b) = (
        "018f0000-0000-7000-8000-00000000000a",
        "018f0000-0000-7000-8000-00000000000b",
    );
    // Two landscapes, edited in turn; the first one was undone once.
    let rows = [
        (a, None, Some(3), "First"),
        (b, None, None, "Other"),
        (a, Some(1), Some(5), "Second"),
        (b, Some(2), None, "Other, later"),
        (a, Some(3), None, "Third"),
    ];
    let mut made = String::from("begin;");
    for (landscape, parent, redo, name) in rows {
        let sql = |id: Option<i64>| id.map_or("null".to_owned(), |id| id.to_string());
        made += &format!(
            "insert into revisions (landscape, parent, redo_to, label, recipe) values
             ('{landscape}', {}, {}, '{name}', '{}');",
            sql(parent),
            sql(redo),
            recipe(name)
        );
    }
    made += &format!(
        "insert into landscapes (id, head) values ('{a}', 3), ('{b}', 4);
         insert into moments (id, landscape, revision, name)
         values (gen_random_uuid(), '{a}', 5, 'The third'); commit;"
    );
    connection
        .execute(sqlx::AssertSqlSafe(made))
        .await
        .expect("the rows of before");

    let service = Service::on(database).await;
    let head = service.head(a).await;
    assert_eq!(head["recipe"]["name"], "Second");
    assert_eq!((&head["revision"], &head["parent"]), (&json!(2), &json!(1)));
    assert_eq!(
        (&head["undo"], &head["redo"]),
        (&json!("Second"), &json!("Third"))
    );
    let moments = service.get(&format!("/api/landscapes/{a}/moments")).await;
    assert_eq!(moments[0]["revision"], 3);
    let go = async |landscape: &str, action: &str| {
        let path = format!("/api/landscapes/{landscape}/{action}");
        let done = service.post(&path, &json!({})).await;
        assert_eq!(done.status(), StatusCode::OK);
        service.head(landscape).await["recipe"]["name"].clone()
    };
    assert_eq!(go(a, "undo").await, "First");
    assert_eq!(go(a, "redo").await, "Second");
    assert_eq!(go(a, "redo").await, "Third");
    assert_eq!(go(b, "undo").await, "Other");
    let named = service.set(a, "/name", json!("Fourth")).await;
    assert_eq!(named.status(), StatusCode::OK);
    assert_eq!(service.head(a).await["revision"], 4);
    let shelf = service.get("/api/landscapes").await;
    let shown = shelf
        .as_array()
        .expect("a list")
        .iter()
        .find(|entry| entry["id"] == a);
    let shown = shown.expect("on the shelf");
    assert_eq!(
        (&shown["name"], &shown["width_m"]),
        (&json!("Fourth"), &json!(800.0))
    );
}

/// Patches of today do not fit documents of an older format: the first edit of one is kept
/// whole, and going back and forth over it loses nothing.
#[tokio::test(flavor = "multi_thread")]
async fn edits_of_an_older_format_are_kept_whole() {
    let service = Service::start().await;
    let id = service
        .make("Old", json!({ "flat": { "width_m": 900, "depth_m": 900 } }))
        .await;
    let old = r#"{ "version": 1, "name": "Old", "extent": { "width_m": 900, "depth_m": 900 },
        "strands": [{ "name": "land", "steps": [{ "id": "a", "name": "Hills", "combine": "add",
            "do": { "noise": { "height_m": 600.0, "offset_m": 10.0 } } }] }] }"#;
    let older = format!(
        "update landscapes set document = '{old}' where id = '{id}';
         update revisions set snapshot = '{old}', format = 1 where landscape = '{id}'"
    );
    let mut connection = connected(&service).await;
    connection
        .execute(sqlx::raw_sql(sqlx::AssertSqlSafe(older)))
        .await
        .expect("made older");
    let service = service.restarted().await;
    const HILLS: &str = "/strands/0/steps/0/do/noise/height_m";
    let height = async |service: &Service| {
        let recipe = service.head(&id).await["recipe"].clone();
        assert_eq!(recipe["version"], recipe::Recipe::VERSION);
        recipe
            .pointer(HILLS)
            .and_then(Value::as_f64)
            .expect("metres")
    };
    let go = async |service: &Service, action: &str| {
        let path = format!("/api/landscapes/{id}/{action}");
        let gone = service.post(&path, &json!({})).await;
        assert_eq!(gone.status(), StatusCode::OK);
    };
    let first = height(&service).await;
    assert!(
        (200.0..300.0).contains(&first),
        "{first} m of what was 600 possible ones"
    );
    // Edits after the old one, on either side of an undo, each read anew.
    service.set(&id, HILLS, json!(123.0)).await;
    service.set(&id, "/sea_level_m", json!(4.0)).await;
    let service = service.restarted().await;
    assert_eq!(height(&service).await, 123.0);
    go(&service, "undo").await;
    go(&service, "undo").await;
    assert_eq!(height(&service).await, first);
    service.set(&id, "/sea_level_m", json!(7.0)).await;
    let service = service.restarted().await;
    assert_eq!(height(&service).await, first);
    assert_eq!(service.head(&id).await["recipe"]["sea_level_m"], 7.0);
    for (revision, metres) in [(1, first), (2, 123.0), (3, 123.0), (4, first)] {
        let back = json!({ "revision": revision });
        service
            .post(&format!("/api/landscapes/{id}/return"), &back)
            .await;
        assert_eq!(height(&service).await, metres, "revision {revision}");
    }
}

/// One that cannot be read shows as such, and hides no other.
#[tokio::test(flavor = "multi_thread")]
async fn a_damaged_landscape_hides_no_other() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let id = service.make("Damaged", json!({ "copy_of": demo })).await;
    let newer = json!({ "version": Recipe::VERSION + 1, "name": "Damaged" });
    let harm = format!("update landscapes set document = '{newer}' where id = '{id}'");
    let mut connection = connected(&service).await;
    connection
        .execute(sqlx::AssertSqlSafe(harm))
        .await
        .expect("harmed");
    let service = service.restarted().await;
    let shelf = service.get("/api/landscapes").await;
    let shelf = shelf.as_array().expect("a list");
    assert_eq!(shelf.len(), 2);
    for entry in shelf {
        let fault = entry["fault"].as_str();
        match entry["id"] == json!(id) {
            true => assert!(
                fault.is_some_and(|fault| fault.contains("newer version")),
                "{entry}"
            ),
            false => assert_eq!(fault, None),
        }
    }
    let opened = service
        .client
        .get(service.url(&format!("/api/landscapes/{id}")))
        .send()
        .await;
    assert_eq!(
        opened.expect("an answer").status(),
        StatusCode::UNPROCESSABLE_ENTITY
    );
    assert_eq!(service.head(&demo).await["recipe"]["name"], "Hollin Fjord");
}

/// A stroke of so many points, as a brush makes it.
fn stroke(points: u32) -> Value {
    let points: Vec<_> = (0..points)
        .map(|i| json!([f64::from(i), 20.5, 1.0]))
        .collect();
    json!({ "points": points, "size_m": 90.0, "strength": 1.0, "softness": 0.5, "erase": false })
}

const STROKES: &str = "/covers/1/mask/terms/0/of/painted/strokes";

/// A landscape with a mask of two equal strokes, and its id.
async fn painted(service: &Service) -> String {
    let demo = service.demo().await;
    let strokes = [stroke(500), stroke(500)];
    let mask = json!({ "terms": [{ "of": { "painted": { "strokes": strokes } } }] });
    let patch = json!([{ "op": "add", "path": "/covers/1/mask", "value": mask }]);
    let kept = edit(service, &demo, &json!({ "patch": patch })).await;
    assert_eq!(kept.status(), StatusCode::OK);
    demo
}

/// An edit of the head.
async fn edit(service: &Service, landscape: &str, edit: &Value) -> reqwest::Response {
    let mut edit = edit.clone();
    edit["base"] = service.head(landscape).await["revision"].clone();
    edit["label"] = json!("Painted");
    let path = format!("/api/landscapes/{landscape}/edits?apart=true");
    service.post(&path, &edit).await
}

/// Long lists of points are named by their content, fetched once, and kept once.
#[tokio::test(flavor = "multi_thread")]
async fn what_was_drawn_goes_apart_by_its_name() {
    let service = Service::start().await;
    let demo = painted(&service).await;
    let whole = service.head(&demo).await["recipe"]
        .pointer(STROKES)
        .cloned();
    let apart = service
        .get(&format!("/api/landscapes/{demo}?apart=true"))
        .await;
    let places = apart["recipe"].pointer(STROKES).expect("strokes").clone();
    assert_eq!(places[0], places[1], "one name for equal lists");
    let name = places[0]["points"].as_str().expect("a name");
    let list = service
        .get(&format!("/api/landscapes/{demo}/bulk/{name}"))
        .await;
    assert_eq!(list, whole.expect("strokes")[0]["points"]);
    assert!(apart.to_string().len() + 10_000 < service.head(&demo).await.to_string().len());
    assert_eq!(service.count("lists").await, 1);
    let kept = "select max(length(document::text))::bigint from landscapes";
    let kept: i64 = sqlx::query_scalar(kept)
        .fetch_one(&mut connected(&service).await)
        .await
        .expect("a length");
    assert!(kept < apart.to_string().len() as i64, "{kept} bytes");
}

/// What is drawn is sent ahead, once; the edit has its name, and so has its answer.
#[tokio::test(flavor = "multi_thread")]
async fn what_is_drawn_is_sent_once_and_comes_back_after_undo_and_restart() {
    let service = Service::start().await;
    let demo = painted(&service).await;
    let drawn = stroke(300);
    let ready = format!("/api/landscapes/{demo}/bulk");
    let name: Value = service
        .post(&ready, &drawn["points"])
        .await
        .json()
        .await
        .expect("a name");
    let mut named = drawn.clone();
    named["points"] = name.clone();
    let patch = json!([{ "op": "add", "path": format!("{STROKES}/-"), "value": named }]);
    let kept = edit(&service, &demo, &json!({ "patch": patch })).await;
    assert_eq!(kept.status(), StatusCode::OK);
    let answer: Value = kept.json().await.expect("JSON");
    assert_eq!(answer["patch"][0]["value"]["points"], name);
    assert!(answer.to_string().len() < 600, "{answer}");
    // One point of it is moved by somebody who has the whole.
    let moved =
        json!([{ "op": "replace", "path": format!("{STROKES}/2/points/7/0"), "value": 7.25 }]);
    let kept = edit(&service, &demo, &json!({ "patch": moved })).await;
    assert_eq!(kept.status(), StatusCode::OK);

    let service = service.restarted().await;
    let strokes = async || {
        service.head(&demo).await["recipe"]
            .pointer(STROKES)
            .cloned()
    };
    let undo = async || {
        let undo = format!("/api/landscapes/{demo}/undo");
        let undone = service.post(&undo, &json!({})).await;
        assert_eq!(undone.status(), StatusCode::OK);
        undone.json::<Value>().await.expect("JSON")
    };
    let now = strokes().await.expect("strokes");
    assert_eq!(now[2]["points"][7], json!([7.25, 20.5, 1.0]));
    let back = undo().await;
    assert_eq!(strokes().await.expect("strokes")[2], drawn);
    // Whoever did not ask for names gets the list itself.
    assert_eq!(back["patch"][0]["value"], drawn["points"]);
    undo().await;
    let left = strokes().await.expect("strokes");
    assert_eq!(left.as_array().map(Vec::len), Some(2));
}

/// A name without its list changes nothing, and the sender can tell.
#[tokio::test(flavor = "multi_thread")]
async fn a_list_that_is_not_there_is_asked_for_again() {
    let service = Service::start().await;
    let demo = painted(&service).await;
    let before = service.head(&demo).await;
    let mut named = stroke(1);
    named["points"] = json!(format!("blake3:{}", "0".repeat(64)));
    let patch = json!([{ "op": "add", "path": format!("{STROKES}/-"), "value": named }]);
    let refused = edit(&service, &demo, &json!({ "patch": patch })).await;
    assert_eq!(refused.status(), StatusCode::FAILED_DEPENDENCY);
    assert!(detail(refused).await.contains("not here"));
    assert_eq!(service.head(&demo).await, before);
    let nowhere = format!("/api/landscapes/{}/bulk", uuid::Uuid::nil());
    let refused = service.post(&nowhere, &json!([[1, 2, 3]])).await;
    assert_eq!(refused.status(), StatusCode::NOT_FOUND);
}

/// An edit that is sent again, because its answer was lost, is made once, whatever
/// happened meanwhile.
#[tokio::test(flavor = "multi_thread")]
async fn an_edit_that_is_sent_again_is_made_once() {
    let service = Service::start().await;
    let demo = service.demo().await;
    let base = service.head(&demo).await["revision"].clone();
    let patch = json!([{ "op": "remove", "path": "/covers/0" }]);
    let mark = uuid::Uuid::new_v4().to_string();
    let edit = json!({ "base": base, "label": "Removed", "mark": mark, "patch": patch });
    let path = format!("/api/landscapes/{demo}/edits");
    let (one, two) = tokio::join!(service.post(&path, &edit), service.post(&path, &edit));
    assert_eq!(
        (one.status(), two.status()),
        (StatusCode::OK, StatusCode::OK)
    );
    let one: Value = one.json().await.expect("JSON");
    assert_eq!(one, two.json::<Value>().await.expect("JSON"));
    assert_eq!(one["mark"], json!(mark));
    assert_eq!(service.head(&demo).await["mark"], json!(mark));
    // Somebody else edits; then it comes once more, made anew on their edit.
    service.set(&demo, HEIGHT, json!(700.0)).await;
    let mut again = edit.clone();
    again["base"] = service.head(&demo).await["revision"].clone();
    let covers = service.head(&demo).await["recipe"]["covers"].clone();
    let answer = service.post(&path, &again).await;
    assert_eq!(answer.status(), StatusCode::OK);
    let answer: Value = answer.json().await.expect("JSON");
    assert_eq!(answer["revision"], one["revision"]);
    assert_eq!(service.head(&demo).await["recipe"]["covers"], covers);
    assert_eq!(service.count("revisions").await, 3);
}
