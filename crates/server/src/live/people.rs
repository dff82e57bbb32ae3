//! Who looks at a landscape, and where.
//!
//! Only of viewers of this service: it is for company, and nothing depends on it.

use std::collections::{BTreeMap, HashMap};
use std::sync::{Mutex, PoisonError};

use serde::Serialize;
use utoipa::ToSchema;
use uuid::Uuid;

/// Somebody who looks at a landscape.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub(crate) struct Person {
    /// Unlike that of any other viewer.
    pub(crate) id: Uuid,
    /// What they call themselves; may be empty.
    pub(crate) name: String,
    /// The place they look at, metres east and north.
    pub(crate) at: Option<[f64; 2]>,
}

/// The longest name that is shown of anybody, in characters.
const LONGEST_NAME: usize = 60;

/// Everybody, by landscape.
#[derive(Default)]
pub(super) struct People(Mutex<HashMap<Uuid, BTreeMap<Uuid, Person>>>);

impl People {
    /// Somebody came, or looks elsewhere.
    pub(super) fn is_here(&self, landscape: Uuid, person: Person) {
        let name: String = person.name.trim().chars().take(LONGEST_NAME).collect();
        let at = person
            .at
            .filter(|at| at.iter().all(|place| place.is_finite()));
        let person = Person { name, at, ..person };
        let mut all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        all.entry(landscape).or_default().insert(person.id, person);
    }

    /// Somebody left.
    pub(super) fn left(&self, landscape: Uuid, id: Uuid) {
        let mut all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(here) = all.get_mut(&landscape) {
            here.remove(&id);
            if here.is_empty() {
                all.remove(&landscape);
            }
        }
    }

    /// All who look at a landscape but the one called `id`.
    pub(super) fn beside(&self, landscape: Uuid, id: Uuid) -> Vec<Person> {
        let all = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let here = all.get(&landscape).into_iter().flat_map(BTreeMap::values);
        here.filter(|person| person.id != id).cloned().collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn people_come_move_and_leave() {
        let (people, land, other) = (People::default(), Uuid::now_v7(), Uuid::now_v7());
        let person = |id, name: &str, at| Person {
            id,
            name: name.to_owned(),
            at,
        };
        let (ada, ben) = (Uuid::from_u128(1), Uuid::from_u128(2));
        people.is_here(land, person(ada, " Ada ", None));
        people.is_here(land, person(ben, &"x".repeat(99), Some([f64::NAN, 0.0])));
        people.is_here(other, person(Uuid::from_u128(3), "Cy", None));
        people.is_here(land, person(ada, " Ada ", Some([3.0, 4.0])));
        assert_eq!(
            people.beside(land, ben),
            [person(ada, "Ada", Some([3.0, 4.0]))]
        );
        assert_eq!(
            people.beside(land, ada),
            [person(ben, &"x".repeat(60), None)]
        );
        people.left(land, ada);
        assert_eq!(people.beside(land, ben), []);
        people.left(land, ben);
        people.left(land, ben);
        assert_eq!(people.beside(other, ada).len(), 1);
    }
}
