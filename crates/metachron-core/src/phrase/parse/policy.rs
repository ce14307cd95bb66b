//! What is said behind a whole phrase: `, month-end refuse`.

use super::Parser;
use crate::phrase::error::Wrong;
use crate::phrase::policy::{LeapBirthday, MonthEnd, Policies};
use crate::phrase::token::What;
use crate::words::list;
use crate::zone::WhichInstant;

const INSTANTS: [(&str, WhichInstant); 3] = [
    ("reject", WhichInstant::Reject),
    ("earlier", WhichInstant::Earlier),
    ("later", WhichInstant::Later),
];

impl Parser<'_> {
    /// What is said behind the phrase, after commas: `, month-end refuse`.
    pub(super) fn policies(&mut self) -> Result<Policies, Wrong> {
        let mut policies = Policies::default();
        while self.take_symbol(",") {
            let start = self.start();
            let mut name = String::new();
            while let (What::Word(word), What::Symbol("-")) = (self.what(), self.ahead(1)) {
                name.push_str(word);
                name.push('-');
                self.next();
                self.next();
            }
            if let What::Word(word) = self.what() {
                name.push_str(word);
                self.next();
            }
            let at = self.since(start);
            match &*name {
                "month-end" => {
                    let values = [("clamp", MonthEnd::Clamp), ("refuse", MonthEnd::Refuse)];
                    policies.month_end = self.policy(values)?;
                }
                "leap-birthday" => {
                    let values = [
                        ("march", LeapBirthday::March),
                        ("february", LeapBirthday::February),
                    ];
                    policies.leap_birthday = self.policy(values)?;
                }
                "in-gap" => policies.in_gap = self.policy(INSTANTS)?,
                "in-overlap" => policies.in_overlap = self.policy(INSTANTS)?,
                _ => {
                    let names = ["month-end", "leap-birthday", "in-gap", "in-overlap"];
                    let names = names.map(|name| format!("`{name}`"));
                    return Err(Wrong::new(
                        &at,
                        format!(
                            "behind the phrase, {} can be said, as in `, month-end refuse`",
                            list(&names, "or")
                        ),
                    ));
                }
            }
        }
        Ok(policies)
    }

    fn policy<T: Copy, const N: usize>(&mut self, values: [(&str, T); N]) -> Result<T, Wrong> {
        let found = match self.what() {
            What::Word(word) => values.iter().find(|(name, _)| name == word),
            _ => None,
        };
        match found {
            Some((_, value)) => {
                self.next();
                Ok(*value)
            }
            None => {
                let names = values.map(|(name, _)| format!("`{name}`"));
                Err(self.wanted(&list(&names, "or")))
            }
        }
    }
}
