//! What a decision rests on that the column's own cells do not settle.

use super::premise::Premise;
use crate::form::{Hypothesis, Order};
use crate::rulings::{DatePart, in_words};
use crate::words::{count, list, number};

/// A group of rows has an order where at least so many of its cells can have
/// no other.
pub const LEAST_DECISIVE: u64 = 3;

/// What a decision rests on.
#[derive(Clone, Debug, PartialEq)]
pub struct Justification {
    /// The form it is about, by its number in the ruling; none where it is
    /// about every open cell of the column.
    pub form: Option<usize>,
    /// What was found.
    pub found: Finding,
}

/// What was found in the rest of the table.
#[derive(Clone, Debug, PartialEq)]
pub enum Finding {
    /// The values of other columns part the orders (level 4).
    Group {
        /// The columns.
        columns: Vec<String>,
        /// The values that have an order, each with the cells that only this
        /// order can read.
        groups: Vec<(String, Order, u64)>,
        /// Values without enough such cells, which stay open.
        silent: u64,
        /// One in how many random splits would part the orders as well: the
        /// power of ten.
        chance: u32,
    },
    /// Groups of rows have no day past the twelfth, which is no chance, in a
    /// form that the cells of the others settle: those groups are open.
    SilentGroups {
        /// The column that makes the groups.
        column: String,
        /// Its values that are open, with their cells.
        values: Vec<(String, u64)>,
        /// The order of the others.
        order: Order,
        /// How many cells of the others that order alone can read.
        decisive: u64,
        /// How many cells the others have.
        cells: u64,
    },
    /// Rows follow each other on the same day of one month after the other, in a
    /// form that the cells of the others settle: they may be days of one month.
    DayRun {
        /// How many.
        rows: u64,
        /// On which day of the month.
        day: i8,
        /// In how many months.
        months: u32,
        /// The order of the others.
        order: Order,
    },
    /// Cells contradict the order of the declared locale, and are more than slips
    /// (level 2).
    LocaleContradicted {
        /// The locale.
        locale: String,
        /// Its order.
        order: Order,
        /// How many cells can only have another.
        cells: u64,
    },
    /// CLDR's editions differ about the order in which the declared locale writes short
    /// dates (level 2).
    EditionsDiffer {
        /// The locale.
        locale: String,
        /// Its order now.
        order: Order,
        /// Its other orders, each with the editions that have it.
        others: Vec<(Order, String)>,
    },
    /// A form that such days would settle has too few days past the twelfth: they
    /// may be slips (level 3).
    MissingLateDays {
        /// The order that its decisive cells say.
        order: Order,
        /// How many cells they are.
        decisive: u64,
        /// How many cells have several readings.
        ambiguous: u64,
        /// How many different days of the month up to the twelfth there are.
        early_days: u32,
        /// How many past it.
        late_days: u32,
    },
    /// A form whose year has two digits, and of which too few cells say at which end it
    /// is: they settle nothing.
    FewYearWitnesses {
        /// The order that its decisive cells say.
        order: Order,
        /// How many cells they are.
        decisive: u64,
        /// How many cells have several readings.
        ambiguous: u64,
    },
    /// A column repeats a part of the date but for a few rows, and in many cells of
    /// the form in another order only than its own cells settled: they are open.
    NoisyPart {
        /// The column.
        column: String,
        /// The part.
        part: DatePart,
        /// In how many rows.
        rows: u64,
        /// How many rows contradict.
        contradicting: u64,
        /// What the form's own cells settled.
        hypothesis: Hypothesis,
        /// How many cells agree otherwise only.
        against: u64,
    },
    /// A column parts the two forms that an import's swap of day and month would
    /// leave: they may be of two sources (level 6).
    SwapRival {
        /// The column.
        column: String,
        /// How many dates may have been rewritten.
        rewritten: u64,
        /// How many texts have a day past the twelfth.
        left: u64,
    },
    /// Clock-like cells are lengths of time: the time between two other columns, in
    /// every row.
    TimeBetween {
        /// Where it starts.
        start: String,
        /// Where it ends.
        end: String,
        /// What is taken off.
        less: Option<String>,
        /// In how many rows.
        rows: u64,
    },
    /// A premise leaves cells of the form one order, and all the same
    /// (level 5).
    Votes {
        /// What they are read as.
        hypothesis: Hypothesis,
        /// How many cells.
        cells: u64,
        /// The premise.
        premise: Premise,
    },
    /// A premise that decides cell by cell (level 5).
    Rule {
        /// How many cells it leaves one reading.
        cells: u64,
        /// The premise.
        premise: Premise,
    },
    /// The column's name spells the order out (level 3).
    Named {
        /// The order.
        order: Order,
    },
    /// How days and two-digit years are spread says which is which (level 3).
    Spread {
        /// The order that it leaves.
        order: Order,
        /// How many different years there are in it.
        years: u64,
        /// How many different days of the month.
        days: u64,
        /// The first and the last year that the other order would have.
        other_years: (i16, i16),
        /// How many cells there are.
        cells: u64,
    },
    /// The day and the month of dates were swapped by an import (level 6).
    Swapped {
        /// How many dates.
        cells: u64,
        /// How many cells of the forms that the import could not read.
        witnesses: u64,
        /// How many different days of the year the dates are.
        days: u32,
        /// A few of the dates, as they stand there and as they were.
        samples: Vec<(String, String)>,
    },
}

/// At most so many groups are named.
const GROUPS_NAMED: usize = 4;

impl Justification {
    /// The justification in a sentence, without a full stop.
    ///
    /// ```
    /// use metachron_core::relations::{Finding, Justification, Premise};
    ///
    /// let premise = Premise::NotBefore { column: "loaned".to_owned(), rows: 812 };
    /// let found = Finding::Rule { cells: 3, premise };
    /// let sentence = Justification { form: None, found }.sentence();
    /// assert!(sentence.starts_with("it is never before loaned (812 rows"), "{sentence}");
    /// ```
    pub fn sentence(&self) -> String {
        match &self.found {
            Finding::Group {
                columns,
                groups,
                silent,
                chance,
            } => {
                let names: Vec<&str> = columns.iter().map(|column| in_words(column)).collect();
                let columns = list(&names, "and");
                let named: Vec<String> = groups
                    .iter()
                    .take(GROUPS_NAMED)
                    .map(|(value, order, cells)| {
                        format!(
                            "{value} writes {} ({})",
                            order.words(),
                            count(*cells, "cell")
                        )
                    })
                    .collect();
                let more = match groups.len() - named.len() {
                    0 => String::new(),
                    more => format!(", and so on for {more} more"),
                };
                let silent = match silent {
                    0 => String::new(),
                    _ => format!(
                        "; {} with fewer than {} such cells {} open",
                        count(*silent, "value"),
                        LEAST_DECISIVE,
                        if *silent == 1 { "stays" } else { "stay" }
                    ),
                };
                format!(
                    "by {columns}: {}{more}; none contradicts, and of random splits fewer than 1 \
                     in 10^{chance} would part them as well{silent}",
                    list(&named, "and")
                )
            }
            Finding::SilentGroups {
                column,
                values,
                order,
                decisive,
                cells,
            } => {
                let named: Vec<String> = values
                    .iter()
                    .take(GROUPS_NAMED)
                    .map(|(value, cells)| format!("{value} ({})", count(*cells, "cell")))
                    .collect();
                let more = match values.len() - named.len() {
                    0 => String::new(),
                    more => format!(" and {more} more"),
                };
                format!(
                    "by {}: {}{more} never {} a day past the 12th, which is no chance: {} of {} cells of \
                     the others have one, and are {}. One that writes otherwise would look so: open",
                    in_words(column),
                    list(&named, "and"),
                    if values.len() == 1 { "has" } else { "have" },
                    number(*decisive),
                    number(*cells),
                    order.words(),
                )
            }
            Finding::DayRun {
                rows,
                day,
                months,
                order,
            } => format!(
                "{} that follow each other are all on day {day}, of {months} months, as {}; \
                 otherwise they are different days of one month. Cells that could be so are open",
                count(*rows, "row"),
                order.words(),
            ),
            Finding::LocaleContradicted {
                locale,
                order,
                cells,
            } => format!(
                "the declared locale {locale} writes {}, and {} can only have another order; \
                 those that fit both are open",
                order.words(),
                count(*cells, "cell"),
            ),
            Finding::EditionsDiffer {
                locale,
                order,
                others,
            } => {
                let others = others.iter();
                let others = others.map(|(other, editions)| {
                    let several = if editions.contains(',') { "s" } else { "" };
                    format!("{} in CLDR's edition{several} {editions}", other.words())
                });
                format!(
                    "the declared locale {locale} writes short dates as {}, and {}; cells that \
                     fit both are open",
                    order.words(),
                    list(&others.collect::<Vec<_>>(), "and"),
                )
            }
            Finding::MissingLateDays {
                order,
                decisive,
                ambiguous,
                early_days,
                late_days,
            } => format!(
                "{} can only be {}, but were all so, {} would have {} up to the 12th and only {} \
                 past it, which is no chance; {} may be slips, and the others are open",
                count(*decisive, "cell"),
                order.words(),
                count(*decisive + *ambiguous, "cell"),
                count(u64::from(*early_days), "different day"),
                number(u64::from(*late_days)),
                if *decisive == 1 { "it" } else { "they" },
            ),
            Finding::FewYearWitnesses {
                order,
                decisive,
                ambiguous,
            } => format!(
                "{} can only be {}, and {} may have the year at the other end; so few may be \
                 slips, and the others are open",
                count(*decisive, "cell"),
                order.words(),
                number(*ambiguous),
            ),
            Finding::NoisyPart {
                column,
                part,
                rows,
                contradicting,
                hypothesis,
                against,
            } => format!(
                "{column} repeats its {} in {}, and {}; but {} have it only if \
                 they are not {hypothesis}. Cells that could be so are open",
                part.words(),
                count(*rows, "row"),
                match contradicting {
                    1 => "1 contradicts".to_owned(),
                    more => format!("{} contradict", number(*more)),
                },
                count(*against, "cell"),
            ),
            Finding::SwapRival {
                column,
                rewritten,
                left,
            } => format!(
                "{} have a day of at most 12 and {} of another form one past it, as an import \
                 leaves them that swaps day and month; but no value of {} has cells of both, so \
                 that two sources may have written them",
                count(*rewritten, "date"),
                number(*left),
                in_words(column),
            ),
            Finding::TimeBetween {
                start,
                end,
                less,
                rows,
            } => format!(
                "it is the time from {start} to {end}{} in {}, and none contradicts; so it is a \
                 length of time",
                less.as_ref()
                    .map_or(String::new(), |less| format!(" less {less}")),
                count(*rows, "row"),
            ),
            Finding::Votes {
                hypothesis,
                cells,
                premise,
            } => format!(
                "{}; so {} can only be {hypothesis}, and none another",
                premise.sentence(),
                count(*cells, "cell"),
            ),
            Finding::Rule { cells, premise } => {
                let verb = if *cells == 1 { "has" } else { "have" };
                format!(
                    "{}; so {} with several readings {verb} one left",
                    premise.sentence(),
                    count(*cells, "cell"),
                )
            }
            Finding::Named { order } => format!(
                "the column's name says {}, and no cell contradicts",
                order.words()
            ),
            Finding::Spread {
                order,
                years,
                days,
                other_years: (first, last),
                cells,
            } => format!(
                "as {} the {} have {} and {}, and otherwise years from {first} to {last} on {} of \
                 the month only, which is no chance",
                order.words(),
                count(*cells, "cell"),
                count(*days, "different day"),
                count(*years, "year"),
                count(*years, "day"),
            ),
            Finding::Swapped {
                cells,
                witnesses,
                days,
                samples,
            } => format!(
                "a program that reads the other order has rewritten {} with day and month \
                 swapped: all of them have a day of at most 12 ({} different), and all {} that \
                 it left as text have a day past 12; {}",
                count(*cells, "date"),
                number(u64::from(*days)),
                number(*witnesses),
                list(
                    &samples
                        .iter()
                        .map(|(there, was)| format!("{there} was {was}"))
                        .collect::<Vec<_>>(),
                    "and"
                ),
            ),
        }
    }
}

impl Finding {
    /// The level of evidence that it is of.
    pub fn level(&self) -> u8 {
        match self {
            Finding::LocaleContradicted { .. } | Finding::EditionsDiffer { .. } => 2,
            Finding::Named { .. }
            | Finding::Spread { .. }
            | Finding::FewYearWitnesses { .. }
            | Finding::MissingLateDays { .. } => 3,
            Finding::Group { .. } | Finding::SilentGroups { .. } => 4,
            Finding::DayRun { .. }
            | Finding::NoisyPart { .. }
            | Finding::TimeBetween { .. }
            | Finding::Votes { .. }
            | Finding::Rule { .. } => 5,
            Finding::Swapped { .. } | Finding::SwapRival { .. } => 6,
        }
    }

    /// What decided, in short.
    pub fn in_short(&self) -> &'static str {
        match self {
            Finding::Named { .. } => "the column's name says so",
            Finding::Spread { .. } => "its days and years are spread so",
            Finding::LocaleContradicted { .. } => "open: its cells contradict the declared locale",
            Finding::EditionsDiffer { .. } => {
                "open: the declared locale has had several orders, and its cells fit them"
            }
            Finding::FewYearWitnesses { .. } => "open: too few of its cells say where the year is",
            Finding::MissingLateDays { .. } => {
                "open: too few of its cells say which, for the days that they would have"
            }
            Finding::SilentGroups { .. } => {
                "its own cells leave one order, and groups that it may not hold for are open"
            }
            Finding::DayRun { .. } => {
                "its own cells leave one order, and some rows speak against it: where they stand \
                 in time says which, else they are open"
            }
            Finding::NoisyPart { .. } => {
                "open: its own cells leave one order, and another column speaks against it"
            }
            Finding::Group { .. }
            | Finding::TimeBetween { .. }
            | Finding::Votes { .. }
            | Finding::Rule { .. } => "the rest of the table says so",
            Finding::Swapped { .. } => "an import had swapped day and month",
            Finding::SwapRival { .. } => {
                "open: an import may have swapped day and month, or two sources have written it"
            }
        }
    }

    /// What would change the decision on the form with these `patterns`.
    pub fn what_changes_it(&self, patterns: &str) -> String {
        match self {
            Finding::Group { columns, .. } => {
                let names: Vec<&str> = columns.iter().map(|column| in_words(column)).collect();
                format!(
                    "one value of {} with cells of both orders; a value that is new stays open",
                    list(&names, "and")
                )
            }
            Finding::SilentGroups { values, .. } => {
                let names: Vec<&str> = values.iter().map(|(value, _)| value.as_str()).collect();
                format!(
                    "one cell of {} with a day past the 12th, or an answer to its question",
                    list(&names, "or")
                )
            }
            Finding::FewYearWitnesses { .. } => format!(
                "more cells of {patterns} that can have the year at one end only, or an answer to \
                 the question below"
            ),
            Finding::MissingLateDays { .. } => format!(
                "more cells of {patterns} with different days past the 12th, or an answer to the \
                 question below"
            ),
            Finding::EditionsDiffer { .. } => format!(
                "one cell of {patterns} with a day past the 12th, or an answer to the question below"
            ),
            Finding::LocaleContradicted { .. }
            | Finding::DayRun { .. }
            | Finding::SwapRival { .. }
            | Finding::NoisyPart { .. } => "an answer to the question below".to_owned(),
            Finding::TimeBetween { .. } => "one row that contradicts".to_owned(),
            Finding::Votes { .. } | Finding::Rule { .. } => {
                "one cell that the premise leaves another order".to_owned()
            }
            Finding::Named { .. } => {
                format!("one cell of {patterns} that can only have another order")
            }
            Finding::Spread { .. } => format!(
                "one cell of {patterns} that can only have another order, or years of as many \
                 different numbers as the days"
            ),
            Finding::Swapped { .. } => {
                "one date with a day past 12, or one text with a day up to 12".to_owned()
            }
        }
    }
}
