//! The sorts of tables that the evaluation tries Metachron on.
//!
//! Each [`Case`] is one sort of trouble, or of decoy. A table of it has a
//! column to be read, what it truly says, and columns that help, mislead or do
//! nothing.

use super::clocks::*;
use super::makers::*;
use super::numbers::*;
use super::placeholders::{self, placeholders};
use super::random::Random;
use super::tables::Table;
use super::witnesses::*;

/// A sort of table.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Case {
    OneOrder,
    FewRows,
    ByForm,
    TwoDigitYears,
    BySite,
    BySiteWithDecoys,
    ByTwoColumns,
    ByChance,
    Shuffled,
    InTimeOrder,
    AgainstTime,
    AlmostInOrder,
    Numbered,
    AlmostNumbered,
    OutBeforeBack,
    OutBeforeBackSilent,
    MostlyBefore,
    MostlyBeforeSilent,
    MonthBeside,
    WeekdayBeside,
    HalfConverted,
    HalfConvertedFew,
    TwoSources,
    FirstsOfMonth,
    Mistyped,
    Noise,
    WronglyDeclared,
    NothingDecisive,
    HiddenWriter,
    HiddenSite,
    DecoysAlone,
    NoisyWitness,
    Ages,
    NoisyAges,
    OtherAges,
    Sorted,
    SortedAsText,
    ShortYears,
    WorkbookDays,
    OtherHead,
    LateDays,
    ByProvider,
    TimeBetween,
    ThreeTimes,
    HalfClocks,
    RunningNumbers,
    CompactTimes,
    Expiries,
    Codes,
    DottedDates,
    Versions,
    Measures,
    Symbols,
    EightDigits,
    Centuries,
    OtherYears,
    MarkersByChance,
    Placeholders,
}

impl Case {
    pub const ALL: [Case; 58] = [
        Case::OneOrder,
        Case::FewRows,
        Case::ByForm,
        Case::TwoDigitYears,
        Case::BySite,
        Case::BySiteWithDecoys,
        Case::ByTwoColumns,
        Case::ByChance,
        Case::Shuffled,
        Case::InTimeOrder,
        Case::AgainstTime,
        Case::AlmostInOrder,
        Case::Numbered,
        Case::AlmostNumbered,
        Case::OutBeforeBack,
        Case::OutBeforeBackSilent,
        Case::MostlyBefore,
        Case::MostlyBeforeSilent,
        Case::MonthBeside,
        Case::WeekdayBeside,
        Case::HalfConverted,
        Case::HalfConvertedFew,
        Case::TwoSources,
        Case::FirstsOfMonth,
        Case::Mistyped,
        Case::Noise,
        Case::WronglyDeclared,
        Case::NothingDecisive,
        Case::HiddenWriter,
        Case::HiddenSite,
        Case::DecoysAlone,
        Case::NoisyWitness,
        Case::Ages,
        Case::NoisyAges,
        Case::OtherAges,
        Case::Sorted,
        Case::SortedAsText,
        Case::ShortYears,
        Case::WorkbookDays,
        Case::OtherHead,
        Case::LateDays,
        Case::ByProvider,
        Case::TimeBetween,
        Case::ThreeTimes,
        Case::HalfClocks,
        Case::RunningNumbers,
        Case::CompactTimes,
        Case::Expiries,
        Case::Codes,
        Case::DottedDates,
        Case::Versions,
        Case::Measures,
        Case::Symbols,
        Case::EightDigits,
        Case::Centuries,
        Case::OtherYears,
        Case::MarkersByChance,
        Case::Placeholders,
    ];

    /// The case in words.
    pub fn words(self) -> &'static str {
        match self {
            Case::OneOrder => "one order throughout",
            Case::FewRows => "one order, 3 to 12 rows",
            Case::ByForm => "an order for each separator",
            Case::TwoDigitYears => "one order, two-digit years",
            Case::BySite => "an order for each site",
            Case::BySiteWithDecoys => "the same, among columns that part by chance",
            Case::ByTwoColumns => "an order for each site and desk together",
            Case::ByChance => "orders mixed at random, few rows, many columns",
            Case::Shuffled => "orders mixed at random",
            Case::InTimeOrder => "rows in time order, the order changes",
            Case::AgainstTime => "rows against time, orders mixed",
            Case::AlmostInOrder => "rows mostly in time order, orders mixed",
            Case::Numbered => "orders mixed, a number that rises with time",
            Case::AlmostNumbered => "orders mixed, a number that mostly rises with time",
            Case::OutBeforeBack => "orders mixed, never before another column",
            Case::OutBeforeBackSilent => "no day past 12, never before another column",
            Case::MostlyBefore => "orders mixed, mostly not before another column",
            Case::MostlyBeforeSilent => "no day past 12, mostly not before another",
            Case::MonthBeside => "orders mixed, the month in another column",
            Case::WeekdayBeside => "orders mixed, the weekday in another column",
            Case::HalfConverted => "half-converted by an import",
            Case::HalfConvertedFew => "the same, 4 to 16 rows",
            Case::TwoSources => "two forms, nothing converted",
            Case::FirstsOfMonth => "firsts of months among days past 12",
            Case::Mistyped => "one order, one cell in 50 mistyped",
            Case::Noise => "one order, junk and blanks between",
            Case::WronglyDeclared => "the wrong order declared",
            Case::NothingDecisive => "no day past 12, a part or a distance in another column",
            Case::HiddenWriter => {
                "a second writer without a day past 12, the month in another column"
            }
            Case::HiddenSite => "a site of another order without a day past 12",
            Case::DecoysAlone => "one order, among columns that say nothing",
            Case::NoisyWitness => "one order, the month in another column with noise",
            Case::Ages => "births without a day past 12, with ages",
            Case::NoisyAges => "the same, one age in 20 wrong",
            Case::OtherAges => "the same, with ages of other people",
            Case::Sorted => "no day past 12, rows in time order",
            Case::SortedAsText => "no day past 12, rows sorted as text",
            Case::ShortYears => "two-digit years, of few years",
            Case::WorkbookDays => "workbook days since 1900 or 1904",
            Case::OtherHead => "the first rows of another order, all on its 12th",
            Case::LateDays => "one order, no day past 12 but in a row of another hand",
            Case::ByProvider => "two forms, a provider each, one early and one late in the month",
            Case::TimeBetween => "a start, an end, and the time between",
            Case::ThreeTimes => "three times of day",
            Case::HalfClocks => {
                "times of a clock of 12 hours, the half of the day in another column"
            }
            Case::RunningNumbers => "dates with a running number behind",
            Case::CompactTimes => "dates with four digits of a time behind",
            Case::Expiries => "months as MMyy",
            Case::Codes => "codes of four digits",
            Case::DottedDates => "short dates with dots, the same in ISO next to them",
            Case::Versions => "versions with dots",
            Case::Measures => "numbers under a name with a word for a time",
            Case::Symbols => "names of genes, of which a spreadsheet made days",
            Case::EightDigits => "days as eight digits, one cell odd",
            Case::Centuries => "two-digit years of births, or of far dates",
            Case::OtherYears => "years of another calendar",
            Case::MarkersByChance => "births, months or years, 1970-01-01 among them by chance",
            Case::Placeholders => "days that stand for no date, among others",
        }
    }

    /// Whether its tables say all that one has to know: a question is needless.
    pub fn says_all(self) -> bool {
        matches!(
            self,
            Case::OneOrder
                | Case::ByForm
                | Case::ByTwoColumns
                | Case::NothingDecisive
                | Case::DecoysAlone
                | Case::NoisyWitness
                | Case::Ages
                | Case::CompactTimes
                | Case::ThreeTimes
                | Case::DottedDates
                | Case::Measures
                | Case::EightDigits
                | Case::MarkersByChance
        )
    }

    /// A table of this sort.
    pub fn table(self, random: &mut Random) -> Table {
        match self {
            Case::OneOrder => {
                let rows = 20 + random.below(400);
                one_order(random, rows)
            }
            Case::FewRows => {
                let rows = 3 + random.below(10);
                one_order(random, rows)
            }
            Case::ByForm => by_form(random),
            Case::TwoDigitYears => two_digit_years(random),
            Case::BySite => by_site(random, Decoys::None),
            Case::BySiteWithDecoys => by_site(random, Decoys::Several),
            Case::ByTwoColumns => by_two_columns(random),
            Case::ByChance => {
                let rows = 8 + random.below(40);
                shuffled(random, rows, 12)
            }
            Case::Shuffled => {
                let rows = 100 + random.below(600);
                shuffled(random, rows, 4)
            }
            Case::InTimeOrder => in_time(random, Steps::Forwards),
            Case::AgainstTime => in_time(random, Steps::Backwards),
            Case::AlmostInOrder => in_time(random, Steps::WithSlips),
            Case::Numbered => numbered(random, Steps::Backwards),
            Case::AlmostNumbered => numbered(random, Steps::WithSlips),
            Case::OutBeforeBack => {
                let rows = 60 + random.below(500);
                before(random, rows, 0, Mix::ByRow)
            }
            Case::OutBeforeBackSilent => {
                let rows = 40 + random.below(100);
                before(random, rows, 0, Mix::Early)
            }
            Case::MostlyBefore => {
                let (rows, early) = (60 + random.below(2000), 1 + random.below(3));
                before(random, rows, early, Mix::ByRow)
            }
            Case::MostlyBeforeSilent => {
                let (rows, early) = (40 + random.below(200), 1 + random.below(5));
                before(random, rows, early, Mix::Early)
            }
            Case::MonthBeside => repeated_part(random, |day| day.strftime("%B").to_string()),
            Case::WeekdayBeside => repeated_part(random, |day| day.strftime("%a").to_string()),
            Case::HalfConverted => {
                let rows = 30 + random.below(400);
                half_converted(random, rows)
            }
            Case::HalfConvertedFew => {
                let rows = 4 + random.below(13);
                half_converted(random, rows)
            }
            Case::TwoSources => two_sources(random),
            Case::FirstsOfMonth => firsts_of_month(random),
            Case::Mistyped => mistyped(random),
            Case::Noise => noise(random),
            Case::WronglyDeclared => wrongly_declared(random),
            Case::NothingDecisive => nothing_decisive(random),
            Case::HiddenWriter => hidden_writer(random),
            Case::HiddenSite => hidden_site(random),
            Case::DecoysAlone => decoys_alone(random),
            Case::NoisyWitness => noisy_witness(random),
            Case::Ages => ages(random, Errors::None),
            Case::NoisyAges => ages(random, Errors::OneIn20),
            Case::OtherAges => ages(random, Errors::All),
            Case::Sorted => sorted(random),
            Case::SortedAsText => sorted_as_text(random),
            Case::ShortYears => short_years(random),
            Case::WorkbookDays => workbook_days(random),
            Case::OtherHead => other_head(random),
            Case::LateDays => late_days(random),
            Case::ByProvider => by_provider(random),
            Case::TimeBetween => time_between(random),
            Case::ThreeTimes => three_times(random),
            Case::HalfClocks => half_clocks(random),
            Case::RunningNumbers => running_numbers(random),
            Case::CompactTimes => compact_times(random),
            Case::Expiries => expiries(random),
            Case::Codes => codes(random),
            Case::DottedDates => dotted_dates(random),
            Case::Versions => versions(random),
            Case::Measures => measures(random),
            Case::Symbols => symbols(random),
            Case::EightDigits => eight_digits(random),
            Case::Centuries => centuries(random),
            Case::OtherYears => other_years(random),
            Case::MarkersByChance => placeholders::by_chance(random),
            Case::Placeholders => placeholders(random),
        }
    }
}
