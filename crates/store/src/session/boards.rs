//! Boards: screens at the mat that show the numbers of one session without signing in.

use crate::base::error::StoreError;
use crate::base::schema::{board, session};
use crate::base::store::Store;
use chrono::{DateTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use tally_core::vocabulary::keyed::Keyed;
use tally_core::vocabulary::units::Units;
use uuid::Uuid;

/// A board of a session. Any number of screens may show it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Board {
    /// What opens it once the code was given: whoever has it reads the board.
    pub id: Uuid,
    /// What is typed to open it.
    pub code: String,
    /// In which units it shows.
    pub units: Units,
    /// Until when it opens.
    pub until: DateTime<Utc>,
}

type Row = (Uuid, String, String, DateTime<Utc>);

fn read((id, code, units, until): Row) -> Result<Board, StoreError> {
    let units = Units::from_key("units", &units)?;
    Ok(Board {
        id,
        code,
        units,
        until,
    })
}

/// By what a board is found.
enum By<'a> {
    Id(Uuid),
    Code(&'a str),
}

impl Store {
    /// Opens a board of a session, in place of the one there was.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when the school has no such session.
    pub async fn open_board(
        &self,
        school: Uuid,
        coach: Uuid,
        of: Uuid,
        new: &Board,
    ) -> Result<(), StoreError> {
        let player = self.session(school, of).await?.0.player_id;
        let shown = (
            board::coach_id.eq(coach),
            board::id.eq(new.id),
            board::code.eq(&new.code),
            board::units.eq(new.units.key()),
            board::until.eq(new.until),
        );
        diesel::insert_into(board::table)
            .values((
                board::school_id.eq(school),
                board::session_id.eq(of),
                board::player_id.eq(player),
                shown,
            ))
            .on_conflict((board::school_id, board::session_id))
            .do_update()
            .set(shown)
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// The board of a session, where one is open.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn board_of_session(
        &self,
        school: Uuid,
        of: Uuid,
    ) -> Result<Option<Board>, StoreError> {
        let row: Option<Row> = board::table
            .find((school, of))
            .filter(board::until.gt(diesel::dsl::now))
            .select((board::id, board::code, board::units, board::until))
            .first(&mut self.connection().await?)
            .await
            .optional()?;
        row.map(read).transpose()
    }

    /// Closes the board of a session; every screen that shows it goes dark.
    ///
    /// # Errors
    /// [`StoreError::Database`].
    pub async fn close_board(&self, school: Uuid, of: Uuid) -> Result<(), StoreError> {
        diesel::delete(board::table.find((school, of)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// The board that a code opens.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when it opens none, or no more.
    pub async fn board_of_code(&self, code: &str) -> Result<Board, StoreError> {
        let (_, _, board) = self.opens(By::Code(code)).await?;
        Ok(board)
    }

    /// School and session of a board, with the board.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none, or it opens no more.
    pub async fn board(&self, id: Uuid) -> Result<(Uuid, Uuid, Board), StoreError> {
        self.opens(By::Id(id)).await
    }

    /// A board that opens still: until its hour, while its session is under way.
    async fn opens(&self, by: By<'_>) -> Result<(Uuid, Uuid, Board), StoreError> {
        let of = session::school_id
            .eq(board::school_id)
            .and(session::id.eq(board::session_id));
        let open = board::table
            .inner_join(session::table.on(of))
            .filter(session::ended_at.is_null())
            .filter(board::until.gt(diesel::dsl::now))
            .select((
                board::school_id,
                board::session_id,
                (board::id, board::code, board::units, board::until),
            ))
            .into_boxed();
        let this = match by {
            By::Id(id) => open.filter(board::id.eq(id)),
            By::Code(code) => open.filter(board::code.eq(code)),
        };
        let found: Option<(Uuid, Uuid, Row)> = this
            .first(&mut self.owner_connection().await?)
            .await
            .optional()?;
        let (school, session, row) = found.ok_or(StoreError::NotFound("board"))?;
        Ok((school, session, read(row)?))
    }
}
