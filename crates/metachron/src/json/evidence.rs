//! What decisions rest on that a column's own cells do not settle.

use metachron_core::form::{Hypothesis, Order};
use metachron_core::relations::{self, Premise as Held, SpanEnd};
use metachron_core::rulings::{DatePart, TimeOrder};
use serde::{Serialize, Serializer};

#[derive(Serialize)]
pub struct Justification<'j> {
    form: Option<usize>,
    #[serde(flatten)]
    found: Finding<'j>,
}

#[derive(Serialize)]
#[serde(rename_all = "kebab-case", tag = "by")]
enum Finding<'j> {
    Group {
        columns: &'j [String],
        groups: &'j [(String, Order, u64)],
        silent: u64,
        chance: u32,
    },
    SilentGroups {
        column: &'j str,
        values: &'j [(String, u64)],
        order: Order,
        decisive: u64,
        cells: u64,
    },
    DayRun {
        rows: u64,
        day: i8,
        months: u32,
        order: Order,
    },
    LocaleContradicted {
        locale: &'j str,
        order: Order,
        cells: u64,
    },
    EditionsDiffer {
        locale: &'j str,
        order: Order,
        others: &'j [(Order, String)],
    },
    FewYearWitnesses {
        order: Order,
        decisive: u64,
        ambiguous: u64,
    },
    MissingLateDays {
        order: Order,
        decisive: u64,
        ambiguous: u64,
        early_days: u32,
        late_days: u32,
    },
    NoisyPart {
        column: &'j str,
        part: DatePart,
        rows: u64,
        contradicting: u64,
        #[serde(serialize_with = "name")]
        order: Hypothesis,
        against: u64,
    },
    SwapRival {
        column: &'j str,
        rewritten: u64,
        left: u64,
    },
    TimeBetween {
        start: &'j str,
        end: &'j str,
        less: Option<&'j str>,
        rows: u64,
    },
    Votes {
        #[serde(serialize_with = "name")]
        order: Hypothesis,
        cells: u64,
        premise: Premise<'j>,
    },
    Rule {
        cells: u64,
        premise: Premise<'j>,
    },
    Named {
        order: Order,
    },
    Spread {
        order: Order,
        years: u64,
        days: u64,
        other_years: (i16, i16),
        cells: u64,
    },
    /// A swap of day and month, by its name in earlier versions.
    Exchanged {
        cells: u64,
        witnesses: u64,
        days: u32,
        samples: &'j [(String, String)],
    },
}

#[derive(Serialize)]
#[serde(rename_all = "kebab-case", tag = "premise")]
enum Premise<'j> {
    InTimeOrder {
        #[serde(skip_serializing_if = "Option::is_none")]
        sorted_by: Option<&'j str>,
        #[serde(skip_serializing_if = "Option::is_none", serialize_with = "name_any")]
        read_by: Option<Hypothesis>,
        order: TimeOrder,
        steps: u64,
        exceptions: u64,
    },
    NotBefore {
        column: &'j str,
        rows: u64,
    },
    NotAfter {
        column: &'j str,
        rows: u64,
    },
    DaysAfter {
        column: &'j str,
        least: i32,
        most: i32,
        rows: u64,
    },
    Counts {
        column: &'j str,
        unit: &'static str,
        #[serde(skip_serializing_if = "Option::is_none")]
        to: Option<&'j str>,
        #[serde(skip_serializing_if = "Option::is_none")]
        days: Option<[String; 2]>,
        rows: u64,
    },
    Same {
        part: DatePart,
        column: &'j str,
        rows: u64,
    },
}

fn name<S: Serializer>(hypothesis: &Hypothesis, serializer: S) -> Result<S::Ok, S::Error> {
    serializer.serialize_str(&hypothesis.name())
}

fn name_any<S: Serializer>(
    hypothesis: &Option<Hypothesis>,
    serializer: S,
) -> Result<S::Ok, S::Error> {
    hypothesis.map(Hypothesis::name).serialize(serializer)
}

impl<'j> From<&'j relations::Justification> for Justification<'j> {
    fn from(justification: &'j relations::Justification) -> Justification<'j> {
        Justification {
            form: justification.form,
            found: (&justification.found).into(),
        }
    }
}

impl<'j> From<&'j relations::Finding> for Finding<'j> {
    fn from(finding: &'j relations::Finding) -> Finding<'j> {
        match finding {
            relations::Finding::Group {
                columns,
                groups,
                silent,
                chance,
            } => Finding::Group {
                columns,
                groups,
                silent: *silent,
                chance: *chance,
            },
            relations::Finding::SilentGroups {
                column,
                values,
                order,
                decisive,
                cells,
            } => Finding::SilentGroups {
                column,
                values,
                order: *order,
                decisive: *decisive,
                cells: *cells,
            },
            relations::Finding::DayRun {
                rows,
                day,
                months,
                order,
            } => Finding::DayRun {
                rows: *rows,
                day: *day,
                months: *months,
                order: *order,
            },
            relations::Finding::Votes {
                hypothesis,
                cells,
                premise,
            } => Finding::Votes {
                order: *hypothesis,
                cells: *cells,
                premise: premise.into(),
            },
            relations::Finding::Rule { cells, premise } => Finding::Rule {
                cells: *cells,
                premise: premise.into(),
            },
            relations::Finding::LocaleContradicted {
                locale,
                order,
                cells,
            } => Finding::LocaleContradicted {
                locale,
                order: *order,
                cells: *cells,
            },
            relations::Finding::EditionsDiffer {
                locale,
                order,
                others,
            } => Finding::EditionsDiffer {
                locale,
                order: *order,
                others,
            },
            relations::Finding::FewYearWitnesses {
                order,
                decisive,
                ambiguous,
            } => Finding::FewYearWitnesses {
                order: *order,
                decisive: *decisive,
                ambiguous: *ambiguous,
            },
            relations::Finding::MissingLateDays {
                order,
                decisive,
                ambiguous,
                early_days,
                late_days,
            } => Finding::MissingLateDays {
                order: *order,
                decisive: *decisive,
                ambiguous: *ambiguous,
                early_days: *early_days,
                late_days: *late_days,
            },
            relations::Finding::NoisyPart {
                column,
                part,
                rows,
                contradicting,
                hypothesis,
                against,
            } => Finding::NoisyPart {
                column,
                part: *part,
                rows: *rows,
                contradicting: *contradicting,
                order: *hypothesis,
                against: *against,
            },
            relations::Finding::SwapRival {
                column,
                rewritten,
                left,
            } => Finding::SwapRival {
                column,
                rewritten: *rewritten,
                left: *left,
            },
            relations::Finding::TimeBetween {
                start,
                end,
                less,
                rows,
            } => Finding::TimeBetween {
                start,
                end,
                less: less.as_deref(),
                rows: *rows,
            },
            relations::Finding::Named { order } => Finding::Named { order: *order },
            relations::Finding::Spread {
                order,
                years,
                days,
                other_years,
                cells,
            } => Finding::Spread {
                order: *order,
                years: *years,
                days: *days,
                other_years: *other_years,
                cells: *cells,
            },
            relations::Finding::Swapped {
                cells,
                witnesses,
                days,
                samples,
            } => Finding::Exchanged {
                cells: *cells,
                witnesses: *witnesses,
                days: *days,
                samples,
            },
        }
    }
}

impl<'j> From<&'j Held> for Premise<'j> {
    fn from(premise: &'j Held) -> Premise<'j> {
        match premise {
            Held::InTimeOrder {
                sorted_by,
                read_by,
                order,
                steps,
                exceptions,
            } => Premise::InTimeOrder {
                sorted_by: sorted_by.as_deref(),
                read_by: *read_by,
                order: *order,
                steps: *steps,
                exceptions: *exceptions,
            },
            Held::NotBefore { column, rows } => Premise::NotBefore {
                column,
                rows: *rows,
            },
            Held::NotAfter { column, rows } => Premise::NotAfter {
                column,
                rows: *rows,
            },
            Held::DaysAfter {
                column,
                least,
                most,
                rows,
            } => Premise::DaysAfter {
                column,
                least: *least,
                most: *most,
                rows: *rows,
            },
            Held::Counts {
                column,
                unit,
                to,
                rows,
            } => Premise::Counts {
                column,
                unit: unit.words(),
                to: match to {
                    SpanEnd::Column(to) => Some(to),
                    SpanEnd::OneDay(_) => None,
                },
                days: match to {
                    SpanEnd::Column(_) => None,
                    SpanEnd::OneDay(days) => Some(days.map(|day| day.to_string())),
                },
                rows: *rows,
            },
            Held::Same { part, column, rows } => Premise::Same {
                part: *part,
                column,
                rows: *rows,
            },
        }
    }
}
