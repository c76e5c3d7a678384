//! The coach's own rules and their history.

use crate::base::columns::{LISTS, REFERENCE_LEVELS, WARM_UP_LIST};
use crate::base::error::StoreError;
use crate::base::json::from_json;
use crate::base::live::announce_all;
use crate::base::schema::{coach, house_rule};
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use serde::Serialize;
use serde::de::DeserializeOwned;
use tally_core::record::reference_levels::{self, ReferenceLevel};
use tally_core::session::warm_up::{self, Movement};
use tally_core::verdicts::house_rules::HouseRules;
use uuid::Uuid;

/// A change of a rule.
#[derive(Debug, Clone, PartialEq)]
pub struct RuleChange {
    /// The rule's key.
    pub key: String,
    /// Its new value; none is ours again.
    pub value: Option<f64>,
    /// When.
    pub changed_at: DateTime<Utc>,
    /// By whom.
    pub coach: String,
}

impl Store {
    /// The rules of a school as they stand now.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn house_rules(&self, school: Uuid) -> Result<HouseRules, StoreError> {
        self.house_rules_at(school, DateTime::<Utc>::MAX_UTC).await
    }

    /// The rules of a school as they stood at a moment.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn house_rules_at(
        &self,
        school: Uuid,
        at: DateTime<Utc>,
    ) -> Result<HouseRules, StoreError> {
        let changes: Vec<(String, Option<serde_json::Value>, DateTime<Utc>)> = house_rule::table
            .filter(
                house_rule::school_id
                    .eq(school)
                    .and(house_rule::key.ne_all(LISTS)),
            )
            .order((house_rule::changed_at, house_rule::id))
            .select((house_rule::key, house_rule::value, house_rule::changed_at))
            .load(&mut self.connection().await?)
            .await?;
        let mut rules = HouseRules::default();
        for (key, value, changed_at) in changes {
            if changed_at > at {
                break;
            }
            let value = value.as_ref().and_then(serde_json::Value::as_f64);
            // A rule of another version of the program: ours stands.
            if let Err(error) = rules.set(&key, value) {
                tracing::warn!(%error, "house rules: a stored rule is not used");
            }
        }
        Ok(rules)
    }

    /// Every change of a rule, latest first.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn rule_changes(&self, school: Uuid) -> Result<Vec<RuleChange>, StoreError> {
        let rows: Vec<(String, Option<serde_json::Value>, DateTime<Utc>, String)> =
            house_rule::table
                .inner_join(
                    coach::table.on(coach::school_id
                        .eq(house_rule::school_id)
                        .and(coach::id.eq(house_rule::coach_id))),
                )
                .filter(
                    house_rule::school_id
                        .eq(school)
                        .and(house_rule::key.ne_all(LISTS)),
                )
                .order((house_rule::changed_at.desc(), house_rule::id.desc()))
                .select((
                    house_rule::key,
                    house_rule::value,
                    house_rule::changed_at,
                    coach::name,
                ))
                .load(&mut self.connection().await?)
                .await?;
        Ok(rows
            .into_iter()
            .map(|(key, value, changed_at, coach)| RuleChange {
                key,
                value: value.as_ref().and_then(serde_json::Value::as_f64),
                changed_at,
                coach,
            })
            .collect())
    }

    /// Changes a rule; the same change again changes nothing.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn change_rule(
        &self,
        school: Uuid,
        coach: Uuid,
        id: Uuid,
        key: &str,
        value: Option<f64>,
    ) -> Result<(), StoreError> {
        self.record_rule(school, coach, id, key, value.map(serde_json::Value::from))
            .await
    }

    /// The school's warm-up list, or ours.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn warm_up_list(&self, school: Uuid) -> Result<Vec<Movement>, StoreError> {
        let kept = self.list(school, WARM_UP_LIST).await?;
        Ok(kept.unwrap_or_else(warm_up::usual))
    }

    /// Saves the school's warm-up list; none takes ours again.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn save_warm_up_list(
        &self,
        school: Uuid,
        coach: Uuid,
        id: Uuid,
        list: Option<&[Movement]>,
    ) -> Result<(), StoreError> {
        self.save_list(school, coach, id, WARM_UP_LIST, list).await
    }

    /// The school's reference levels, or ours.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn reference_levels(&self, school: Uuid) -> Result<Vec<ReferenceLevel>, StoreError> {
        let kept = self.list(school, REFERENCE_LEVELS).await?;
        Ok(kept.unwrap_or_else(reference_levels::ours))
    }

    /// Saves the school's reference levels; none takes ours again.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn save_reference_levels(
        &self,
        school: Uuid,
        coach: Uuid,
        id: Uuid,
        list: Option<&[ReferenceLevel]>,
    ) -> Result<(), StoreError> {
        self.save_list(school, coach, id, REFERENCE_LEVELS, list)
            .await
    }

    /// A list that stands among the rules, where the school has one of its own.
    async fn list<T: DeserializeOwned>(
        &self,
        school: Uuid,
        key: &str,
    ) -> Result<Option<T>, StoreError> {
        let kept: Option<Option<serde_json::Value>> = house_rule::table
            .filter(
                house_rule::school_id
                    .eq(school)
                    .and(house_rule::key.eq(key)),
            )
            .order((house_rule::changed_at.desc(), house_rule::id.desc()))
            .select(house_rule::value)
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        kept.flatten().map(from_json).transpose()
    }

    async fn save_list(
        &self,
        school: Uuid,
        coach: Uuid,
        id: Uuid,
        key: &str,
        list: Option<&[impl Serialize]>,
    ) -> Result<(), StoreError> {
        let list = list.map(|l| serde_json::to_value(l).expect("a list is plain data"));
        self.record_rule(school, coach, id, key, list).await
    }

    async fn record_rule(
        &self,
        school: Uuid,
        coach: Uuid,
        id: Uuid,
        key: &str,
        value: Option<serde_json::Value>,
    ) -> Result<(), StoreError> {
        let connection = &mut self.connection().await?;
        diesel::insert_into(house_rule::table)
            .values((
                house_rule::school_id.eq(school),
                house_rule::id.eq(id),
                house_rule::coach_id.eq(coach),
                house_rule::key.eq(key),
                house_rule::value.eq(value),
            ))
            .on_conflict((house_rule::school_id, house_rule::id))
            .do_nothing()
            .execute(connection)
            .await?;
        announce_all(connection, school).await
    }
}
