//! Plans that coaches keep for their sessions.

use crate::base::error::StoreError;
use crate::base::keys::Key;
use crate::base::schema::plan_template;
use crate::base::store::Store;
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::session::plan::PlannedBlock;
use tally_core::session::purpose::Purpose;
use uuid::Uuid;

/// A plan kept for a purpose.
#[derive(Debug, Clone, PartialEq)]
pub struct PlanTemplate {
    /// Identifier.
    pub id: Uuid,
    /// What the coach calls it.
    pub name: String,
    /// What for.
    pub purpose: Purpose,
    /// Its blocks.
    pub blocks: Vec<PlannedBlock>,
}

impl Store {
    /// The school's plans for a purpose, by name.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn plan_templates(
        &self,
        school: Uuid,
        purpose: Purpose,
    ) -> Result<Vec<PlanTemplate>, StoreError> {
        let rows: Vec<(Uuid, String, Key<Purpose>, serde_json::Value)> = plan_template::table
            .filter(
                plan_template::school_id
                    .eq(school)
                    .and(plan_template::purpose.eq(Key(purpose))),
            )
            .order((plan_template::name, plan_template::id))
            .select((
                plan_template::id,
                plan_template::name,
                plan_template::purpose,
                plan_template::blocks,
            ))
            .load(&mut self.connection().await?)
            .await?;
        rows.into_iter()
            .map(|(id, name, Key(purpose), blocks)| {
                Ok(PlanTemplate {
                    id,
                    name,
                    purpose,
                    blocks: crate::base::json::from_json(blocks)?,
                })
            })
            .collect()
    }

    /// Keeps a plan, in place of one of the same name for the same purpose.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn save_plan_template(
        &self,
        school: Uuid,
        plan: &PlanTemplate,
    ) -> Result<(), StoreError> {
        let blocks = serde_json::to_value(&plan.blocks).expect("a plan is plain data");
        diesel::insert_into(plan_template::table)
            .values((
                plan_template::school_id.eq(school),
                plan_template::id.eq(plan.id),
                plan_template::name.eq(&plan.name),
                plan_template::purpose.eq(Key(plan.purpose)),
                plan_template::blocks.eq(&blocks),
            ))
            .on_conflict((
                plan_template::school_id,
                plan_template::purpose,
                plan_template::name,
            ))
            .do_update()
            .set((
                plan_template::blocks.eq(&blocks),
                plan_template::saved_at.eq(diesel::dsl::now),
            ))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Forgets a plan.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn forget_plan_template(&self, school: Uuid, id: Uuid) -> Result<(), StoreError> {
        diesel::delete(
            plan_template::table.filter(
                plan_template::school_id
                    .eq(school)
                    .and(plan_template::id.eq(id)),
            ),
        )
        .execute(&mut self.connection().await?)
        .await?;
        Ok(())
    }
}
