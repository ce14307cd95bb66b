use super::*;
use crate::evidence::{ColumnOptions, Surveyor};
use crate::forecast::forecast_column;
use crate::form::Order;
use crate::stamp::Kind;
use jiff::civil::date;
use proptest::prelude::*;

const TODAY: Date = date(2026, 11, 23);

fn evidence<S: AsRef<str>>(cells: &[S]) -> ColumnEvidence {
    let column_options = [ColumnOptions::default()];
    let mut surveyor = Surveyor::new(&column_options);
    for cell in cells {
        surveyor.cell(0, cell.as_ref());
        surveyor.end_row();
    }
    surveyor.take().columns.remove(0)
}

/// The ruling on a column called `x`: its kind and forms, or why there is
/// none.
fn ruling(cells: &[&str], declared: &Declared) -> String {
    match settle("x", &evidence(cells), declared, TODAY) {
        Err(skipped) => format!("{skipped:?}"),
        Ok(ruling) => {
            let forms: Vec<String> = ruling
                .read
                .forms
                .iter()
                .map(|form| {
                    let patterns: Vec<String> =
                        form.alternatives().iter().map(Form::to_string).collect();
                    patterns.join(" | ")
                })
                .collect();
            let century = ruling.read.century.map(|c| format!(" from {c}"));
            format!(
                "{}: {}{}",
                ruling.kind,
                forms.join("; "),
                century.unwrap_or_default()
            )
        }
    }
}

#[test]
fn columns_settled_by_their_own_cells() {
    for (cells, expected) in [
        (&["2024-03-05", "2024-04-06"][..], "date: yyyy-MM-dd"),
        (&["31/12/2024", "05/06/2024"], "date: dd/MM/yyyy"),
        (&["12/31/2024", "5/6/2024"], "date: M/d/yyyy"),
        (&["31/12/2024", "5/1/2025", "05/02/2025"], "date: d/M/yyyy"),
        (
            &["05/06/2024", "07/08/2024"],
            "date: dd/MM/yyyy | MM/dd/yyyy",
        ),
        // Each form by itself.
        (
            &["31-12-2024", "05-06-2024", "12/31/2024", "05/06/2024"],
            "date: dd-MM-yyyy; MM/dd/yyyy",
        ),
        (
            &["31-12-2024", "05-06-2024", "05/06/2024"],
            "date: dd-MM-yyyy; dd/MM/yyyy | MM/dd/yyyy",
        ),
        // The fifteenth is as decisive as any other.
        (&["06/15/2024", "05/06/2024"], "date: MM/dd/yyyy"),
        // A clash leaves the form open.
        (
            &["31/12/2024", "12/31/2024", "05/06/2024"],
            "date: dd/MM/yyyy | MM/dd/yyyy",
        ),
        (&["5 March 2024", "12 May 2024"], "date: d MMMM yyyy"),
        (&["5 Mar 2024", "12 May 2024"], "date: d MMM yyyy"),
        (&["Tue 5 March 2024"], "date: EEE d MMMM yyyy"),
        (&["Tuesday 5 Mar 2024"], "date: EEEE d MMM yyyy"),
        (
            &["2024-03-05 09:30", "2024-03-05"],
            "datetime: yyyy-MM-dd HH:mm; yyyy-MM-dd",
        ),
        (&["2024-03-05 9:30"], "datetime: yyyy-MM-dd H:mm"),
        (
            &["2024-03-05T09:30:00Z", "2024-03-05T09:30:00+01:00"],
            "instant: yyyy-MM-dd'T'HH:mm:ssXXX",
        ),
        (&["09:30", "10:15"], "time: HH:mm"),
        (&["9:30 am", "10:15 pm"], "time: h:mm a"),
        (&["85/06/09", "71/12/31"], "date: yy/MM/dd from 1947"),
        (&["12-Mar-85", "5-Jan-07"], "date: d-MMM-yy from 1947"),
        // A day of one digit is no year.
        (&["24-Mar-05", "5-Jan-07"], "date: d-MMM-yy from 1947"),
        (
            &["24-Mar-05", "31-Mar-04"],
            "date: dd-MMM-yy | yy-MMM-dd from 1947",
        ),
        (&["99-Mar-05", "31-Mar-04"], "date: yy-MMM-dd from 1947"),
        // Births from 29 to 71: the default window would cut them in two.
        (
            &["31/12/29", "31/12/45", "31/12/46", "31/12/47", "31/12/71"],
            "date: dd/MM/yy",
        ),
        // Two digits before 32 may as well be days.
        (
            &["25/12/24", "31/01/25"],
            "date: dd/MM/yy | yy/MM/dd from 1947",
        ),
        // Only year-day-month reads all of them.
        (&["2024/25/03", "2024/05/03"], "date: yyyy/dd/MM"),
        (
            &["2024-03-15", "someday", "31/12/2024"],
            "date: yyyy-MM-dd; dd/MM/yyyy",
        ),
    ] {
        assert_eq!(ruling(cells, &Declared::default()), expected, "{cells:?}");
    }
}

#[test]
fn a_slip_does_not_unsettle_a_column() {
    let mut cells = vec!["2024-03-05"; 300];
    cells.push("2024-13-05");
    assert_eq!(ruling(&cells, &Declared::default()), "date: yyyy-MM-dd");
}

#[test]
fn columns_that_pass_through() {
    for (cells, expected) in [
        (&["", "n/a"][..], "Empty"),
        (&["3-2", "1-0", "21-15"], "NoDates"),
        (&["10115", "75001"], "NoDates"),
        (&["12.50", "1,234.00", "99"], "NoDates"),
        (&["1.2.3", "1.10.0", "2.0.1"], "NoDates"),
        (&["A-2024-03-05", "A-2024-03-06"], "NoDates"),
        (&["2023", "2024"], "NoDates"),
        (&["1.10.12", "2.3.20"], "Doubtful { cells: 2 }"),
        (&["1998.12.3", "1998.4.1"], "Doubtful { cells: 2 }"),
        (&["20240305", "20240306"], "BareDigits { cells: 2 }"),
        (&["20240305", "20249999"], "NoDates"),
        (&["07:30", "26:15"], "PastMidnight { cells: 1 }"),
        // Codes of airports.
        (&["02A", "24A", "ABE", "ABI", "ABQ"], "NoDates"),
        (&["10a", "9a", "12p"], "NoDates"),
        // Parts of a whole, weights, volumes, lengths, power, decades.
        (&["3 of 12", "5 of 24"], "NoDates"),
        (&["1.50 g", "2.30 g"], "NoDates"),
        (&["3.12 l", "0.30 l"], "NoDates"),
        (&["120 m", "35 m"], "NoDates"),
        (&["60 W", "100 W"], "NoDates"),
        (&["1890s", "1920s"], "NoDates"),
        // Scales, one of which is no time.
        (
            &["1:25", "1:50", "1:5"],
            "TooFew { readable: 2, plain: false }",
        ),
        (&["2024/001", "2024/002"], "Doubtful { cells: 2 }"),
        (&["2008-09", "2011-12"], "Seasons { cells: 2 }"),
        (
            &["113/03/05", "112/12/31"],
            "OtherCalendar { cells: 2, calendars: [Roc] }",
        ),
        (&["745-03-05", "100-03-05"], "NoDates"),
        (
            &["see file", "lost", "2024-03-05"],
            "TooFew { readable: 1, plain: true }",
        ),
    ] {
        assert_eq!(ruling(cells, &Declared::default()), expected, "{cells:?}");
    }
}

/// A column's name may say what its cells are, and what they are not.
#[test]
fn names_of_columns_count() {
    let ruling = |name: &str, cells: &[&str]| match settle(
        name,
        &evidence(cells),
        &Declared::default(),
        TODAY,
    ) {
        Err(skipped) => format!("{skipped:?}"),
        Ok(ruling) => {
            let forms = ruling.read.forms.iter().flat_map(FormRuling::alternatives);
            let forms: Vec<String> = forms.map(Form::to_string).collect();
            format!("{}: {}", ruling.kind, forms.join("; "))
        }
    };
    for (name, cells, expected) in [
        ("Loan date", &["20240305", "20240306"][..], "date: yyyyMMdd"),
        ("Leihdatum", &["20240305", "20240306"], "date: yyyyMMdd"),
        (
            "loanDate",
            &["45356", "45357"],
            "date: days since 1899-12-30",
        ),
        ("Kwartal", &["I 2024", "IV 2023"], "quarter: Q yyyy"),
        ("period", &["I 2024", "IV 2023"], "Doubtful { cells: 2 }"),
        ("model", &["X-2024", "X-2023"], "Doubtful { cells: 2 }"),
        ("version", &["S60.1.2", "S60.2.4"], "Doubtful { cells: 2 }"),
        ("fee per day", &["45356", "45357"], "NoDates"),
        ("visits this month", &["45356", "45357"], "NoDates"),
        // One odd cell hides nothing.
        (
            "date",
            &["20240305", "20240306", "20241399"],
            "date: yyyyMMdd",
        ),
        (
            "date",
            &["20240305", "20240306", "unknown"],
            "date: yyyyMMdd",
        ),
        (
            "date",
            &["45356", "45357", "45358", "0"],
            "date: days since 1899-12-30",
        ),
        // Years out of nothing.
        ("date", &["1120305", "1130406"], "BareDigits { cells: 2 }"),
        ("shelf no", &["MAR-12", "APR-13"], "Doubtful { cells: 2 }"),
        ("shelf", &["MAR-12", "APR-13"], "month: MMM-yy; MMM-dd"),
        ("receipt no", &["3/2024", "4/2024"], "Doubtful { cells: 2 }"),
        ("receipt no", &["1998", "1999"], "NoDates"),
        ("receipt no", &["45356", "45357"], "NoDates"),
        (
            "receipt no",
            &["20240305", "20240306"],
            "BareDigits { cells: 2 }",
        ),
        ("week", &["2024-02", "2024-12"], "Doubtful { cells: 2 }"),
        // Parts have numbers in years that no table is about.
        (
            "part",
            &["12-07-4523", "25-11-8345", "14-02-2019"],
            "Doubtful { cells: 3 }",
        ),
        (
            "date",
            &["12/07/2023", "25/11/8345", "14/02/2019"],
            "date: dd/MM/yyyy",
        ),
        // Seconds had nine digits until 2001, as an account has.
        (
            "created_at",
            &["975944477", "999999999", "1000000000"],
            "instant: seconds since 1970-01-01",
        ),
        (
            "created",
            &["975944477", "941185313"],
            "BareDigits { cells: 2 }",
        ),
        ("customer", &["975944477", "941185313"], "NoDates"),
        (
            "visit length",
            &["1:30:00", "0:45:00"],
            "duration: elapsed H:mm:ss",
        ),
        ("visit start", &["11:30:00", "10:45:00"], "time: HH:mm:ss"),
        // What a database puts where there is no day.
        (
            "opens",
            &["1899-12-30 08:30", "1899-12-30 10:00"],
            "NoDay { cells: 2 }",
        ),
        (
            "lent",
            &["1402/05/06", "1403/11/29"],
            "OtherCalendar { cells: 2, calendars: [Persian, IslamicUmalqura] }",
        ),
    ] {
        assert_eq!(ruling(name, cells), expected, "{name}: {cells:?}");
    }
}

#[test]
fn bare_digits_are_dates_where_the_name_says_so() {
    let cells = evidence(&["20240305", "20240306"]);
    let settled = settle("Loan date", &cells, &Declared::default(), TODAY);
    assert_eq!(settled.unwrap().kind, Kind::Date);
}

#[test]
fn declarations_hold() {
    let dmy = Declared {
        order: Some(Order::Dmy),
        ..Declared::default()
    };
    for (cells, expected) in [
        (&["05/06/2024", "07/08/2024"][..], "date: dd/MM/yyyy"),
        // Against all evidence.
        (&["12/31/2024", "12/30/2024"], "date: dd/MM/yyyy"),
        // Forms that have no such order keep their own.
        (
            &["2024-03-05", "05/06/2024"],
            "date: yyyy-MM-dd; dd/MM/yyyy",
        ),
    ] {
        assert_eq!(ruling(cells, &dmy), expected, "{cells:?}");
    }
    let short = Declared {
        century: Some(1900),
        ..Declared::default()
    };
    assert_eq!(
        ruling(&["31/12/29", "31/12/71"], &short),
        "date: dd/MM/yy from 1900"
    );
}

fn orders() -> impl Strategy<Value = Vec<String>> {
    let cell = (
        1..29_u8,
        1..13_u8,
        prop::bool::ANY,
        prop::sample::select(vec!['/', '-', '.']),
    );
    prop::collection::vec(cell, 1..40).prop_map(|cells| {
        cells
            .into_iter()
            .map(|(day, month, swap, sign)| {
                if swap {
                    format!("{month:02}{sign}{day:02}{sign}2024")
                } else {
                    format!("{day:02}{sign}{month:02}{sign}2024")
                }
            })
            .collect()
    })
}

proptest! {
    /// Rulings do not depend on where the evidence was cut.
    #[test]
    fn merged_evidence_gives_the_same_ruling(cells in orders(), cut in 0.0..1.0) {
        let (one, other) = cells.split_at((cut * cells.len() as f64) as usize);
        let column_options = [ColumnOptions::default()];
        let survey = |cells: &[String]| {
            let mut surveyor = Surveyor::new(&column_options);
            for cell in cells {
                surveyor.cell(0, cell);
                surveyor.end_row();
            }
            surveyor.take()
        };
        let mut merged = survey(one);
        merged.merge(survey(other));
        let whole = settle("x", &evidence(&cells), &Declared::default(), TODAY);
        let parts = settle("x", &merged.columns[0], &Declared::default(), TODAY);
        prop_assert_eq!(parts, whole);
    }

    /// What the survey forecasts is what the conversion does.
    #[test]
    fn the_forecast_agrees_with_the_conversion(cells in orders()) {
        let evidence = evidence(&cells);
        let ruling = settle("x", &evidence, &Declared::default(), TODAY).unwrap();
        let forecast = forecast_column("x", &evidence, &ruling, &Default::default(), TODAY);
        let mut rulings = crate::rulings::Rulings::new(crate::rulings::TableRuling::default());
        rulings.column.insert("x".to_owned(), ruling);
        let mut decider = crate::decide::Decider::new(&rulings, "x").unwrap().unwrap();
        let mut counts = crate::forecast::Counts::default();
        for cell in &cells {
            counts.add(decider.read(cell, &crate::decide::RowContext::default()).0, 1);
        }
        prop_assert_eq!(forecast.cells, counts);
    }

    /// A form whose cells were all written in one order is never settled as
    /// another.
    #[test]
    fn one_writer_is_never_misread(days in prop::collection::vec((1..29_i8, 1..13_i8), 1..40), dmy in prop::bool::ANY) {
        let cells: Vec<String> = days.iter().map(|(day, month)| if dmy { format!("{day}/{month}/2024") } else { format!("{month}/{day}/2024") }).collect();
        let mut rulings = crate::rulings::Rulings::new(crate::rulings::TableRuling::default());
        let ruling = settle("x", &evidence(&cells), &Declared::default(), TODAY).unwrap();
        rulings.column.insert("x".to_owned(), ruling);
        let mut decider = crate::decide::Decider::new(&rulings, "x").unwrap().unwrap();
        for (cell, &(day, month)) in cells.iter().zip(&days) {
            if let (_, Some(stamp)) = decider.read(cell, &crate::decide::RowContext::default()) {
                prop_assert_eq!(stamp.date(), Some(date(2024, month, day)));
            }
        }
    }
}

/// The patterns of a column called `date`, of these cells.
fn patterns(cells: &[String]) -> String {
    let ruling = settle("date", &evidence(cells), &Declared::default(), TODAY).unwrap();
    let either = |form: &FormRuling| {
        let forms = form.alternatives().iter().map(Form::to_string);
        forms.collect::<Vec<_>>().join(" | ")
    };
    let forms: Vec<String> = ruling.read.forms.iter().map(either).collect();
    forms.join("; ")
}

/// `count` days of these years, one as likely as another.
fn days_of(years: std::ops::Range<i16>, count: i64) -> impl Iterator<Item = Date> {
    let first = date(years.start, 1, 1);
    let span = i64::from((date(years.end, 1, 1) - first).get_days());
    (0..count).map(move |number| first + jiff::Span::new().days(number * 7919 % span))
}

#[test]
fn days_are_spread_otherwise_than_years() {
    let written = |days: &mut dyn Iterator<Item = Date>, pattern: &str| -> Vec<String> {
        days.map(|day| day.strftime(pattern).to_string()).collect()
    };
    for (pattern, expected) in [
        ("%d/%m/%y", "dd/MM/yy"),
        ("%y/%m/%d", "yy/MM/dd"),
        ("%d-%b-%y", "dd-MMM-yy"),
    ] {
        let cells = written(&mut days_of(2020..2025, 150), pattern);
        assert_eq!(patterns(&cells), expected);
    }
    let both = "dd/MM/yy | yy/MM/dd";
    // Too few, or years as wide as the days.
    assert_eq!(
        patterns(&written(&mut days_of(2020..2025, 39), "%d/%m/%y")),
        both
    );
    assert_eq!(
        patterns(&written(&mut days_of(2001..2030, 300), "%d/%m/%y")),
        both
    );
    // The 20th to the 24th of each month: the years do not go past ours.
    let mut payday = (2001..2027)
        .flat_map(|year| (1..13).map(move |month| date(year, month, 20 + (year % 5) as i8)));
    assert_eq!(patterns(&written(&mut payday, "%y/%m/%d")), both);
    // Dates with four digits of the year say of which years the others are.
    let mut cells = written(
        &mut days_of(2014..2016, 40).filter(|day| day.day() > 17),
        "%d/%m/%y",
    );
    assert_eq!(patterns(&cells), both);
    cells.extend(written(&mut days_of(2014..2016, 40), "%Y-%m-%d"));
    assert_eq!(patterns(&cells), "yyyy-MM-dd; dd/MM/yy");
}

proptest! {
    /// Whatever the years of a file are, as long as they are not nearly all of
    /// 2001 to 2031, it is not taken for one written the other way round.
    #[test]
    fn years_are_not_taken_for_days(
        first in 1990..2020i16,
        span in 1..27i16,
        days in proptest::collection::vec((0..400i64, 0..31usize), 1..250),
        payday in proptest::option::of(1..29i8),
        in_front in any::<bool>(),
    ) {
        let start = date(first, 1, 1);
        let cells: Vec<String> = days
            .iter()
            .map(|(share, jitter)| {
                let day = start + jiff::Span::new().days(i64::from(span) * 365 * share / 400);
                let on = payday.map_or(day, |on| {
                    date(day.year(), day.month(), (on + (*jitter as i8) % 3).min(28))
                });
                on.strftime(if in_front { "%y/%m/%d" } else { "%d/%m/%y" }).to_string()
            })
            .collect();
        let Ok(ruling) = settle("date", &evidence(&cells), &Declared::default(), TODAY) else {
            return Ok(());
        };
        let forms = ruling.read.forms[0].alternatives();
        let is_right = |form: &Form| form.order().is_some_and(|order| order.starts_with_year() == in_front);
        // One cell that no other order reads may be of whatever order it is.
        prop_assert!(forms.iter().any(is_right), "{forms:?}: {:?}", &cells[..cells.len().min(5)]);
    }
}

/// A date that was cut off has its year in front alone: that says nothing of the others.
#[test]
fn few_cells_do_not_say_where_years_are() {
    let days = |count: i64| (0..count).map(|n| date(2016, 5, 3) + jiff::Span::new().days(n * 37));
    let written = |pattern: &str, count, odd: &[&str]| -> Vec<String> {
        let days = days(count).map(|day| day.strftime(pattern).to_string());
        days.chain(odd.iter().map(|&odd| odd.to_owned())).collect()
    };
    for (cells, is_open) in [
        (written("%d/%m/%y", 24, &["10/04/1"]), true),
        (written("%d/%m/%y", 60, &["10/04/1", "11/12/1"]), true),
        (written("%y/%m/%d", 60, &["85/04/12"]), true),
        // As many as there are in a column of such dates.
        (written("%y/%-m/%-d", 60, &[]), false),
        (written("%d/%m/%y", 12, &["12/07/85", "30/11/79"]), false),
    ] {
        let cells: Vec<&str> = cells.iter().map(String::as_str).collect();
        let ruling = settle("entry", &evidence(&cells), &Declared::default(), TODAY).unwrap();
        let form = &ruling.read.forms[0];
        assert_eq!(
            matches!(form, FormRuling::Open(_)),
            is_open,
            "{cells:?} {form:?}"
        );
    }
}
