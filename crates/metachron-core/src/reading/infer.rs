//! From a shape to the forms that could have written it.

use super::around::Around;
use super::clock::{Before, clocks, with_zone, with_zone_in_brackets};
use super::compact::compact;
use super::date::{dates, days_of_no_year};
use super::pieces::{Classes, Piece};
use super::{elapsed, number};
use crate::form::{Count, CountUnit, DECIMAL_ZERO, Digits, Field, Form, Item, OffsetStyle, Width};
use crate::lex::{Class, Holds};
use crate::locale::{Roles, Sign};

/// Every form that could have written a cell of these classes, and whether
/// it is usual.
pub(super) fn infer(classes: &[Class]) -> Vec<(Form, bool)> {
    if let [Class::Typed(kind)] = classes {
        let form = Form::of_typed(*kind).into_iter();
        return form.map(|form| (form, true)).collect();
    }
    let around = Around::of(classes);
    let lengths = elapsed::lengths(around.inner, around.holds).into_iter();
    let lengths = lengths.map(|(length, usual)| (vec![Item::Field(Field::Elapsed(length))], usual));
    let held = held(around.inner, around.holds).into_iter();
    held.chain(lengths)
        .filter_map(|(items, usual)| Some((Form::new(around.put(items)).ok()?, usual)))
        .collect()
}

/// The moments that these classes may be, by what a program's wrapping says of them.
fn held(classes: &[Class], holds: Option<Holds>) -> Vec<(Vec<Item>, bool)> {
    match holds {
        None | Some(Holds::Any | Holds::Written) => {}
        Some(Holds::NamedUnits) => return Vec::new(),
        Some(holds @ (Holds::Parts | Holds::DayParts)) => {
            // Three numbers in brackets may be any three; four or five say too little.
            let fields = |items: &[Item]| {
                let is_field = |item: &&Item| matches!(item, Item::Field(_));
                items.iter().filter(is_field).count()
            };
            let is_in_brackets = holds == Holds::DayParts;
            let is_usual = |items: &[Item]| !is_in_brackets || fields(items) == 6;
            let is_known = |items: &Vec<Item>| !is_in_brackets || matches!(fields(items), 3 | 6);
            let parts = in_parts(Classes(classes)).into_iter().filter(is_known);
            return parts
                .map(|items| (items.clone(), is_usual(&items)))
                .collect();
        }
        Some(holds @ (Holds::Seconds | Holds::Milliseconds)) => {
            let count = number::wrapped(holds).map(|count| vec![Item::Field(Field::Count(count))]);
            let with_offset = |mut items: Vec<Item>| {
                // The zone of the clock that the program saw: the instant is the
                // number alone.
                if matches!(
                    classes,
                    [.., Class::Symbol('+' | '-'), Class::Digits(4)] if classes.len() > 2
                ) {
                    items.push(Item::Field(Field::Offset(OffsetStyle::Basic)));
                }
                (items, true)
            };
            return count.map(with_offset).into_iter().collect();
        }
    }
    let has_content = classes.iter().any(|class| {
        matches!(class, Class::Short | Class::Digits(_)) || class.may_be(Roles::DAY_PERIOD)
    });
    if !has_content || classes.len() == 1 && classes[0] == Class::Short {
        return Vec::new();
    }
    let count = number::counts(classes).map(|count| (vec![Item::Field(Field::Count(count))], true));
    let count = count.or_else(|| {
        // Seconds, and the offset of the clock that was read, which changes nothing
        // of them: `1710449314 +0100`.
        let [
            Class::Digits(9 | 10),
            Class::Space,
            Class::Symbol('+' | '-'),
            Class::Digits(4),
        ] = classes
        else {
            return None;
        };
        let count = Field::Count(Count::unix(CountUnit::Seconds));
        let offset = Field::Offset(OffsetStyle::Basic);
        let items = [
            Item::Field(count),
            Item::Literal(" ".to_owned()),
            Item::Field(offset),
        ];
        // `5551234567 -1234` may be a telephone and an extension.
        Some((items.to_vec(), false))
    });
    let inferred = infer_bare(Classes(classes)).into_iter();
    let inferred = inferred.map(|piece| (piece.items, piece.usual));
    inferred.chain(count).collect()
}

/// Numbers from the year or the hour on, parted by commas: `2024, 3, 5, 14, 30`.
fn in_parts(classes: Classes<'_>) -> Option<Vec<Item>> {
    const FIELDS: [Field; 6] = [
        Field::Year,
        Field::Month(Digits::Free),
        Field::Day(Digits::Free),
        Field::Hour(Digits::Free),
        Field::Minute(Digits::Free),
        Field::Second(Digits::Free),
    ];
    let (fields, numbers) = match classes.at(0)? {
        Class::Digits(4) => (&FIELDS[..], 3..=FIELDS.len()),
        Class::Short => (&FIELDS[3..], 2..=3),
        _ => return None,
    };
    let mut piece = Piece::new(0);
    let mut found = 0;
    for field in fields {
        piece = piece.field(*field);
        found += 1;
        // Between day and hour there may be brackets: `{{2024,3,5},{14,30,0}}`.
        let brackets = [Class::Symbol('}'), Class::Symbol(','), Class::Symbol('{')];
        if found == 3 && classes.0[piece.end..].starts_with(&brackets) {
            let next = piece.end + brackets.len();
            piece = piece.literal(classes, next);
            continue;
        }
        let next = piece.end + 1 + usize::from(classes.is(piece.end + 1, Class::Space));
        if !classes.is(piece.end, Class::Symbol(',')) || !classes.is(next, Class::Short) {
            break;
        }
        if found < fields.len() {
            piece = piece.literal(classes, next);
        }
    }
    (piece.end == classes.0.len() && numbers.contains(&found)).then_some(piece.items)
}

fn infer_bare(classes: Classes<'_>) -> Vec<Piece> {
    let mut whole = clocks(classes, 0, Before::Nothing);
    // `T14:30` (ISO 8601-1:2019 §5.3.1.1)
    if classes.is(0, Class::T) {
        let sign = Piece::new(0).literal(classes, 1);
        let clocks = clocks(classes, 1, Before::T).into_iter();
        whole.extend(clocks.map(|clock| sign.clone().then(clock)));
    }
    whole.extend(day_and_time_in_digits(classes));
    whole.extend(with_decimal_zero(classes));
    for date in days(classes, 0) {
        if let Some((time, before)) = behind_date(classes, &date) {
            let date = date.clone().literal(classes, time);
            for clock in clocks(classes, time, before) {
                if !date.usual && is_standard(&clock, before) {
                    continue;
                }
                let moment = date.clone().then(clock);
                whole.extend(with_weekday_behind(classes, &moment));
                whole.extend(with_year_behind(classes, &moment));
                whole.push(moment);
            }
        }
        whole.extend(with_time_in_brackets(classes, &date));
        let end = date.end;
        if matches!(classes.0.get(end..), Some([Class::Z])) {
            whole.push(date.clone().field(Field::Offset(OffsetStyle::Hours)));
        }
        // A date and a time in one run of digits.
        let has_hour = |item: &Item| matches!(item, Item::Field(Field::Hour(_)));
        if date.items.iter().any(has_hour) {
            whole.extend(with_zone(classes, &date));
        }
        whole.push(date);
    }
    for clock in clocks(classes, 0, Before::Nothing) {
        let Some(day) = behind_clock(classes, clock.end) else {
            continue;
        };
        let clock = clock.literal(classes, day);
        for date in days(classes, day) {
            let moment = clock.clone().then(date);
            whole.extend(with_zone_in_brackets(classes, &moment));
            whole.push(moment);
        }
    }
    whole.retain(|piece| piece.end == classes.0.len());
    whole
}

/// Whether a standard says how a date before such a time is written, so that
/// no unusual order is to be thought of (ISO 8601-1:2019 §5.4, RFC 9557).
fn is_standard(clock: &Piece, before: Before) -> bool {
    let has_zone = |item: &Item| matches!(item, Item::Field(Field::ZoneId));
    before == Before::T || clock.items.iter().any(has_zone)
}

/// Where the longest date or time stands that starts `classes`, else the one
/// that ends them.
pub(super) fn longest(classes: &[Class]) -> Option<(usize, usize)> {
    let all = Classes(classes);
    let ends = |start: usize| {
        let dates = days(all, start).into_iter();
        dates
            .filter(|date| date.items.len() > 2)
            .flat_map(move |date| {
                let clock = behind_date(all, &date)
                    .map(|(time, before)| clocks(all, time, before))
                    .unwrap_or_default();
                let with_clock = clock.into_iter().map(|clock| clock.end);
                with_clock.chain([date.end]).collect::<Vec<usize>>()
            })
    };
    if let Some(end) = ends(0).max() {
        return Some((0, end));
    }
    let at_end = (1..classes.len()).find_map(|start| {
        let whole = ends(start).any(|end| end == classes.len());
        whole.then_some((start, classes.len()))
    });
    at_end.or_else(|| {
        let clocks = clocks(all, 0, Before::Nothing).into_iter();
        // A time of day has no zone without a date.
        let end = clocks.map(|clock| clock.end).min()?;
        all.is(1, Class::Symbol(':')).then_some((0, end))
    })
}

/// `Tue Mar  5 14:30:00 2024`, `Mar  5 14:30:00 2024 GMT`: C's asctime and
/// its kin put the year last.
fn with_year_behind(classes: Classes<'_>, moment: &Piece) -> Vec<Piece> {
    let has_year = moment.items.iter().any(|item| {
        matches!(
            item,
            Item::Field(Field::Year | Field::YearOfTwo | Field::YearFree | Field::WeekYear)
        )
    });
    let year = moment.end + 1;
    if has_year || !classes.is(moment.end, Class::Space) || !classes.is(year, Class::Digits(4)) {
        return Vec::new();
    }
    let moment = moment.clone().literal(classes, year).field(Field::Year);
    let zone = with_zone(classes, &moment);
    zone.into_iter().chain([moment]).collect()
}

/// `20240305.0`: digits that went through a program as a number, which has left a zero
/// behind them.
fn with_decimal_zero(classes: Classes<'_>) -> Vec<Piece> {
    let [
        Class::Digits(4 | 6 | 8 | 12),
        Class::Symbol('.'),
        Class::Short,
    ] = classes.0
    else {
        return Vec::new();
    };
    let dates = compact(Classes(&classes.0[..1]), 0).into_iter();
    let with_zero = dates.map(|mut date| {
        date.items.push(Item::Literal(DECIMAL_ZERO.to_owned()));
        date.end = classes.0.len();
        date
    });
    with_zero.collect()
}

/// `051430Z MAR 24`: day, hour and minute in digits, a zone's letter, the month's name
/// and the year (ACP 121 §313). Only `Z` is told from a word.
fn day_and_time_in_digits(classes: Classes<'_>) -> Option<Piece> {
    if !classes.is(0, Class::Digits(6)) || !classes.is(1, Class::Z) {
        return None;
    }
    let over_space = |index: usize| index + usize::from(classes.is(index, Class::Space));
    let month = over_space(2);
    let year = over_space(month + 1);
    let field = match classes.at(year)? {
        Class::Short => Field::YearOfTwo,
        Class::Digits(4) => Field::Year,
        _ => return None,
    };
    classes.may_be(month, Roles::MONTH).then(|| {
        Piece::new(0)
            .run(&[
                Field::Day(Digits::Two),
                Field::Hour(Digits::Two),
                Field::Minute(Digits::Two),
            ])
            .field(Field::Offset(OffsetStyle::Hours))
            .literal(classes, month)
            .field(Field::MonthName(Width::Abbreviated))
            .literal(classes, year)
            .field(field)
    })
}

/// `27.05.2024 (16:03)`: a time in brackets behind its date.
fn with_time_in_brackets(classes: Classes<'_>, date: &Piece) -> Vec<Piece> {
    let open = date.end + usize::from(classes.is(date.end, Class::Space));
    if !classes.is(open, Class::Symbol('(')) {
        return Vec::new();
    }
    let date = date.clone().literal(classes, open + 1);
    let moments = clocks(classes, open + 1, Before::Date).into_iter();
    let closed = moments.filter(|clock| classes.is(clock.end, Class::Symbol(')')));
    let closed = closed.map(|clock| {
        let end = clock.end + 1;
        date.clone().then(clock).literal(classes, end)
    });
    closed.collect()
}

/// Over what may stand between a time and the date behind it: ` `, `, `, ` - `.
fn behind_clock(classes: Classes<'_>, mut index: usize) -> Option<usize> {
    index += usize::from(classes.is(index, Class::Symbol(',')));
    if !classes.is(index, Class::Space) {
        return None;
    }
    let is_parted =
        classes.is(index + 1, Class::Symbol('-')) && classes.is(index + 2, Class::Space);
    Some(index + if is_parted { 3 } else { 1 })
}

/// The dates that start at `start`, with the weekday that may stand on
/// either side.
fn days(classes: Classes<'_>, start: usize) -> Vec<Piece> {
    if classes.may_be(start, Roles::WEEKDAY) {
        let weekday = Piece::new(start).field(Field::Weekday(Width::Abbreviated));
        let date = behind_weekday(classes, weekday.end);
        // `tirsdag den 16. september`
        let date = over_words(classes, date);
        let weekday = weekday.literal(classes, date);
        // Digits behind a word are a code, and not a date in one run.
        let parted = |date: &Piece| date.items.len() > 4 || date.end > weekday.end + 1;
        return dates(classes, date)
            .into_iter()
            .filter(parted)
            .chain(days_of_no_year(classes, date))
            .map(|date| weekday.clone().then(date))
            .collect();
    }
    // PDF begins so (ISO 32000-1 §7.9.4): `D:20240305143000+01'00'`.
    let is_pdf = start == 0
        && classes.is_sign(0, Sign::DateInDigits)
        && classes.is(1, Class::Symbol(':'))
        && matches!(classes.at(2), Some(Class::Digits(8..)));
    if is_pdf {
        let sign = Piece::new(0).literal(classes, 2);
        let dates = dates(classes, 2).into_iter();
        return dates.map(|date| sign.clone().then(date)).collect();
    }
    // Vietnamese begins with the word for day: `ngày 5 tháng 3`.
    let day = over_words(classes, start);
    if day > start {
        let words = Piece::new(start).literal(classes, day);
        // `el domingo 30 de junio`
        if classes.may_be(day, Roles::WEEKDAY) {
            let days = days(classes, day).into_iter();
            return days.map(|date| words.clone().then(date)).collect();
        }
        // `the 2024` is no year, nor `am 1` a day.
        let dates = dates(classes, day).into_iter();
        let dates = dates.filter(|date| date.end > day + 1);
        return dates.map(|date| words.clone().then(date)).collect();
    }
    let mut found = dates(classes, start);
    let with_weekday: Vec<Piece> = found
        .iter()
        .filter_map(|date| with_weekday_behind(classes, date))
        .collect();
    found.extend(with_weekday);
    found
}

/// Over words that say that a date comes: `den `, `d. `, `o dia `, `d.d. `.
fn over_words(classes: Classes<'_>, start: usize) -> usize {
    let (mut index, mut end) = (start, start);
    while classes.is_sign(index, Sign::DateComes) {
        let dot = classes.is(index + 1, Class::Symbol('.'));
        index += 1 + usize::from(dot);
        if classes.is(index, Class::Space) {
            index += 1;
            end = index;
        } else if !dot {
            break;
        }
    }
    end
}

/// `5 March 2024, Tuesday`, `5/3/2024 (Tue)`
fn with_weekday_behind(classes: Classes<'_>, date: &Piece) -> Option<Piece> {
    let mut index = behind_weekday(classes, date.end);
    let close = match classes.at(index) {
        Some(Class::Symbol('(')) => Some(')'),
        Some(Class::Symbol('（')) => Some('）'),
        _ => None,
    };
    index += usize::from(close.is_some());
    if index == date.end || !classes.may_be(index, Roles::WEEKDAY) {
        return None;
    }
    let day = date
        .clone()
        .literal(classes, index)
        .field(Field::Weekday(Width::Abbreviated));
    let Some(close) = close else {
        return Some(day);
    };
    let end = day.end + 1;
    let is_closed = classes.is(day.end, Class::Symbol(close));
    is_closed.then(|| day.literal(classes, end))
}

/// Over what may stand between a weekday and its date: `, `, `. `, ` `, `-`, and
/// `   , ` behind names that are padded to one width.
fn behind_weekday(classes: Classes<'_>, mut index: usize) -> usize {
    if classes.is(index, Class::Space) && classes.is(index + 1, Class::Symbol(',')) {
        index += 1;
    }
    if let Some(Class::Symbol('.')) = classes.at(index) {
        index += 1;
    }
    if let Some(Class::Symbol(',' | '-')) = classes.at(index) {
        index += 1;
    }
    index + usize::from(classes.is(index, Class::Space))
}

/// Over what may stand between a date and a time: ` `, `, `, ` - `, ` at `,
/// `:` as web servers write it, the `T` of ISO 8601, or a sign that logs and
/// databases write (`_`, `-`, `@`); and what it says of the time.
fn behind_date(classes: Classes<'_>, date: &Piece) -> Option<(usize, Before)> {
    let mut index = date.end;
    if classes.is(index, Class::T) {
        return Some((index + 1, Before::T));
    }
    // `240305_143000` has a date of six, which with a hyphen may as well be a number.
    let is_short_run = classes.is(index - 1, Class::Digits(6))
        && classes.is(index, Class::Symbol('_'))
        && classes.is(index + 1, Class::Digits(6));
    let run = classes.is(index - 1, Class::Digits(8)) || is_short_run;
    let by_name = date
        .items
        .iter()
        .any(|item| matches!(item, Item::Field(Field::MonthName(_) | Field::DayOfYear(_))));
    let ends_long = matches!(classes.at(index - 1), Some(Class::Digits(3 | 4)));
    let ends_in_year = matches!(date.items.last(), Some(Item::Field(Field::YearOfTwo)));
    let ends_date = ends_long || ends_in_year && has_seconds(classes, index + 1);
    if by_name && ends_date && classes.is(index, Class::Symbol(':')) {
        return Some((index + 1, Before::Date));
    }
    match classes.at(index) {
        // `2019年12月31日（火）19時46分`, `2024年3月5日14時30分`
        // and `5日下午2时30分`
        Some(Class::Short | Class::Name(_))
            if matches!(classes.at(index - 1), Some(Class::Symbol('）' | ')')))
                || classes.is_sign(index - 1, Sign::Day) =>
        {
            return Some((index, Before::Date));
        }
        Some(Class::Symbol('_')) if run => return Some((index + 1, Before::Run)),
        // `20240305-143000`, as files are named.
        Some(Class::Symbol('-')) if run && has_digits(classes, index + 1) => {
            return Some((index + 1, Before::Run));
        }
        Some(Class::Symbol('_')) => return Some((index + 1, Before::Underscore)),
        // `2024-03-05-14` is no hour, and `14:30` no offset, but with seconds.
        Some(Class::Symbol(sign @ ('-' | '+' | '/' | ':' | '|')))
            if has_seconds(classes, index + 1) && !(by_name && sign == ':') =>
        {
            return Some((index + 1, Before::Date));
        }
        // Nor is it one behind `17/05/2024`, which no standard has.
        Some(Class::Symbol('-'))
            if has_minutes(classes, index + 1)
                && index >= 2
                && classes.is(index - 2, Class::Symbol('/')) =>
        {
            return Some((index + 1, Before::Date));
        }
        Some(Class::Symbol('@')) => return Some((index + 1, Before::Date)),
        _ => {}
    }
    // `5. 3. 2024. 14:30`: where a dot ends the year too.
    let before_last = index.checked_sub(2).and_then(|before| classes.at(before));
    let is_dotted = ends_long && matches!(before_last, Some(Class::Space | Class::Symbol('.')));
    let comma = match classes.at(index) {
        Some(Class::Symbol(',' | ';')) => true,
        Some(Class::Symbol('.')) => is_dotted,
        _ => false,
    };
    index += usize::from(comma);
    if !classes.is(index, Class::Space) {
        return None;
    }
    index += 1;
    let sign = matches!(
        classes.at(index),
        Some(Class::Symbol('-' | '–' | '@' | '|' | '/' | '·') | Class::Filler(_))
    );
    if sign && classes.is(index + 1, Class::Space) {
        index += 2;
    } else if classes.is(index, Class::Symbol('@')) {
        index += 1;
    }
    // `2024-03-05 1430`. Behind `5 Mar` the digits are the year, and behind
    // `03/05/2024` as often a number.
    let has_day = |item: &Item| matches!(item, Item::Field(Field::Day(_)));
    let is_year_first = matches!(date.items.first(), Some(Item::Field(Field::Year)))
        && date.items.iter().any(has_day);
    // `24JAN2020 1817`
    let ends_in_whole_year = matches!(date.items.last(), Some(Item::Field(Field::Year)));
    let is_by_name = by_name && ends_in_whole_year && date.items.iter().any(has_day);
    let are_digits = run || (is_year_first || is_by_name) && classes.is(index, Class::Digits(4));
    let before = if are_digits {
        Before::Run
    } else {
        Before::Date
    };
    Some((index, before))
}

/// Whether four or six digits start here, which may be a time.
fn has_digits(classes: Classes<'_>, start: usize) -> bool {
    matches!(classes.at(start), Some(Class::Digits(4 | 6)))
}

/// Whether hours and minutes start here, parted by a colon.
fn has_minutes(classes: Classes<'_>, start: usize) -> bool {
    classes.is(start, Class::Short)
        && classes.is(start + 1, Class::Symbol(':'))
        && classes.is(start + 2, Class::Short)
}

/// Whether a time starts here that has seconds.
fn has_seconds(classes: Classes<'_>, start: usize) -> bool {
    let sign = classes.at(start + 1);
    matches!(sign, Some(Class::Symbol(':' | '.')))
        && classes.at(start + 3) == sign
        && [start, start + 2, start + 4]
            .into_iter()
            .all(|number| classes.is(number, Class::Short))
}
