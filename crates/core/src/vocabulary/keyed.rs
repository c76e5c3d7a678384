//! Enums whose values have a name in files, in the API and in the database.

use crate::vocabulary::invalid::Invalid;

/// An enum whose values are known by stable keys, the same as their JSON names.
///
/// Derive [`strum::IntoStaticStr`] and [`strum::VariantArray`] with
/// `#[strum(serialize_all = "snake_case")]`, and say what one of them is called:
///
/// ```
/// use tally_core::vocabulary::keyed::Keyed;
/// #[derive(Debug, Clone, Copy, PartialEq, strum::IntoStaticStr, strum::VariantArray)]
/// #[strum(serialize_all = "snake_case")]
/// enum Place { Barn, OutdoorDeck }
/// impl Keyed for Place {
///     const KIND: &'static str = "a place";
/// }
/// assert_eq!(Place::OutdoorDeck.key(), "outdoor_deck");
/// assert_eq!(Place::from_key("place", "barn"), Ok(Place::Barn));
/// let refused = Place::from_key("place", "moon").unwrap_err();
/// assert_eq!(refused.to_string(), "place: \"moon\" is not a place; use one of barn, outdoor_deck");
/// ```
pub trait Keyed: Copy + Into<&'static str> + strum::VariantArray {
    /// What one of them is called in a refusal, with its article.
    const KIND: &'static str;

    /// All of them, in the order they are declared.
    fn all() -> impl Iterator<Item = Self> {
        Self::VARIANTS.iter().copied()
    }

    /// The name in files, the API and the database.
    fn key(self) -> &'static str {
        self.into()
    }

    /// Finds the one with this key.
    ///
    /// # Errors
    /// [`Invalid`] naming `field` and the keys there are.
    fn from_key(field: &str, key: &str) -> Result<Self, Invalid> {
        Self::all().find(|one| one.key() == key).ok_or_else(|| {
            let keys: Vec<_> = Self::all().map(Keyed::key).collect();
            Invalid::new(
                field,
                key,
                format!("is not {}", Self::KIND),
                format!("use one of {}", keys.join(", ")),
            )
        })
    }
}
