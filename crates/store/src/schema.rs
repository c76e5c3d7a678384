//! The tables, as the migrations make them.

diesel::table! {
    school (school_id) { school_id -> Uuid, name -> Text, created_at -> Timestamptz, }
}
diesel::table! {
    coach (school_id, id) { school_id -> Uuid, id -> Uuid, name -> Text, }
}
diesel::table! {
    player (school_id, id) {
        school_id -> Uuid, id -> Uuid, name -> Text, born -> Nullable<Int4>,
        left_handed -> Bool, aim -> Text, created_at -> Timestamptz,
    }
}
diesel::table! {
    session (school_id, id) {
        school_id -> Uuid, id -> Uuid, player_id -> Uuid, purpose -> Text, club -> Text,
        place -> Text, altitude_m -> Float8, temperature_c -> Float8, humidity_pct -> Float8,
        pressure_hpa -> Nullable<Float8>, started_at -> Timestamptz, zone -> Text,
        ended_at -> Nullable<Timestamptz>,
    }
}
diesel::table! {
    block (school_id, id) {
        school_id -> Uuid, id -> Uuid, session_id -> Uuid, position -> Int4, label -> Text,
    }
}
diesel::table! {
    device (school_id, id) {
        school_id -> Uuid, id -> Uuid, name -> Text, kind -> Text, seen_at -> Timestamptz,
    }
}
diesel::table! {
    shot (school_id, id) {
        school_id -> Uuid, id -> Uuid, session_id -> Uuid, block_id -> Uuid, hit_at -> Timestamptz,
    }
}
diesel::table! {
    reading (school_id, id) {
        school_id -> Uuid, id -> Uuid, shot_id -> Uuid, device_id -> Uuid, run -> Text,
        sequence -> Int8, received_at -> Timestamptz, values -> Jsonb,
    }
}
diesel::table! {
    shot_mark (school_id, id) {
        school_id -> Uuid, id -> Uuid, shot_id -> Uuid, coach_id -> Uuid, made_at -> Timestamptz,
        kind -> Text, reason -> Nullable<Text>, note -> Text, strike -> Nullable<Int2>,
    }
}
diesel::table! {
    target_window (school_id, player_id, club) {
        school_id -> Uuid, player_id -> Uuid, club -> Text, launch_from_deg -> Float8,
        launch_to_deg -> Float8, spin_from_rpm -> Float8, spin_to_rpm -> Float8,
        saved_at -> Timestamptz,
    }
}
diesel::allow_tables_to_appear_in_same_query!(
    school,
    coach,
    player,
    session,
    block,
    device,
    shot,
    reading,
    shot_mark,
    target_window
);
