//! What a column's name says its cells are.
//!
//! A word in a name says something only where the name *is* about it: `invoice
//! date` and `year built` are about dates, `salary per month`, `mileage this
//! year` and `month end balance` are about quantities.

use crate::locale::without_accents;
use crate::rulings::DatePart;
use crate::stamp::Kind;

/// Words that are a date by themselves: at the start or the end of a name, or
/// before one of [`BEHIND_DATE`].
const DATES: &str = "\
    date dated dates datetime timestamp ts when julian jdate dob birthday datum dato dagsetning \
    geburtstag fecha dată дата datums pvm päivämäärä päiväys dátum kuupäev tarih tarixi \
    sana ημερομηνία ημερομηνια dáta dyddiad תאריך تاريخ التاريخ تاریخ दिनांक तारीख তারিখ தேதி \
    ngày tanggal tarikh วันที่ petsa 日付 日期 날짜 일자 年月日";

/// Ends of compound words that are dates: `Rechnungsdatum`, `出生日期`.
const DATE_ENDS: &str = "datum dato tarihi 日付 日期 年月日 日時 일자";

/// What stands before `date` in one word: `duedate`. Words such as `update` and
/// `candidate` are none.
const BEFORE_DATE: &str = "\
    start end due birth order invoice ship sale sales loan entry visit pay payment \
    report value trade posting expiry delivery hire issue return booking";

/// Words behind a date in the middle of a name that leave it one: `loan date in
/// UTC`. `invoice date net` is an amount.
const BEHIND_DATE: &str = "\
    of in out on at from to for time utc gmt local serial number text raw iso key id de du der \
    des di do";

/// `data` is a date in Romance languages and in Polish, and none in English: it
/// counts alone, or before one of these.
const BEHIND_DATA: &str = "\
    de di do da del della dello dell fattura nascita nascimento emissão urodzenia \
    wystawienia sprzedaży płatności";

/// Years, months and days: dates where the name ends with them, and counted by
/// where it says so.
const YEARS: &str = "year jahr année annee año anno ano jaar år rok год yıl 年 년";
const MONTHS: &str = "\
    month monat mois mes mese mês maand måned månad miesiąc měsíc месяц ay 月 월";
const DAYS: &str = "day tag jour día giorno dia dag день gün";

/// The words for months at the end of a compound: `Buchungsmonat`.
const MONTH_ENDS: &str = "monat maand månad måned";

/// The words for years at the end of a compound: `Baujahr`.
const YEAR_ENDS: &str = "jahr jaar";

/// Words that say that the cells are quarters.
const QUARTERS: &str = "\
    quarter quartal kvartal kvartál kwartaal kwartał trimestre trimester trimestru čtvrtletí \
    çeyrek квартал 季度 四半期 분기";

/// Words before a span that make it a part of a quantity.
const QUANTIFIERS: &str = "\
    per this last next each every a an by previous current pro je par por al à na за";

/// Words behind a span at the start of a name that leave it a date: `year
/// built`, `day of arrival`.
const BEHIND_SPAN: &str = "\
    of built born made due won sold sent paid bought begun written lost found taken out";

/// Words for something that was done, besides those that end as such: `sold on`.
const DONE: &str = "\
    built born made won sold sent paid bought begun written lost found taken seen left";

/// The ends of words for something that was done.
const DONE_ENDS: &str = "ed é ée és ées";

/// Words that end as such, and are about what something is worth or where it is:
/// `valued at`.
const NOT_DONE: &str = "\
    valued priced estimated rated capped based located assessed quoted situated";

/// Words behind those, at the end of a name, that make it a date: `entered on`,
/// `payé le`.
const DONE_ON: &str = "on at le";

/// Words at the end of a name that make it a quantity: `birthday party cost`.
const QUANTITIES: &str = "\
    amount balance cost costs count fee fees growth mileage qty quantity percent \
    population price rate revenue salary sales share size sum total turnover visitors \
    volume weight";

/// Words that say that somebody was born then.
const BIRTHS: &str = "\
    birth born dob birthday birthdate geburtsdatum geburtstag geboren naissance \
    nacimiento nascita nascimento urodzenia narození född fødselsdato geboortedatum \
    doğum рождения 生年月日";

/// Words that say that the dates are ahead, or may be.
const AHEAD: &str = "\
    due expiry expires expiration expire exp maturity matures until valid renewal \
    retirement deadline planned target end ablauf fällig vencimiento scadenza échéance";

/// Words that say that clock-like cells are lengths of time.
const LENGTHS: &str = "\
    duration durations dur elapsed length lasted took runtime overtime downtime uptime \
    wait waited waiting break breaks pause delay latency dauer laufzeit durée duree \
    duración duração durata varighet kesto süre длительность \
    duur varaktighed trukmė trvání trvanie trajanje időtartam διάρκεια тривалість продолжительность \
    продължителност 所要時間 소요시간";

/// Words at the end of a name that say its cells are times or quarters.
const TIMES: &str = "\
    time times stamp clock klokkeslett kellonaika horario horaire orario horário zeit uhrzeit heure hora ora ore uur tid tijd godzina čas \
    время час saat ώρα 時刻 时间 시간";

/// Words at the end of a name that say its cells are numbers or codes, which may
/// look like a month, a year or a time: `invoice no`, `ratio`.
const CODES: &str = "\
    no nr number num nos code codes id ids sku ref reference ratio odds score verse \
    chapter version model isbn article part lot nummer numero número numéro номер 번호 番号";

/// Words at the end of a name that say its cells are weeks.
const WEEKS: &str = "week wk kw woche kalenderwoche semaine semana settimana săptămâna setmana vecka uge uke viikko \
    vika týden týždeň tydzień hét hafta savaitė nedēļa nädal неделя тиждень седмица εβδομάδα";

/// Words at the end of a name that make it a point in time again: `break start`.
const ENDS: &str = "start end begin begins ends from to at until since";

/// Words that say that something starts or ends then.
const STARTS: &str = "\
    start starts started begin begins begun from since in open opens opened opening arrival \
    arrived arrivée login von ab beginn anfang kommen début debut entrada entrata início inicio \
    inizio начало приход";
const FINISHES: &str = "\
    end ends ended finish finished stop until till to out close closes closed closing departure \
    left logout bis ende gehen départ fin salida saída uscita fine fim конец уход";

/// More words for what is on a timetable.
const TIMETABLE: &str = "\
    departs arrives std sta etd eta abfahrt ankunft avgang ankomst afgang vertrek aankomst partenza \
    arrivo llegada odjezd příjezd odjazd przyjazd lähtö отправление прибытие 発車 到着";

/// Words before `hours` that make them times of day.
const OPENING: &str = "opening business office visiting open";

/// The words of a column's name, in lower case.
pub(super) struct Header {
    words: Vec<String>,
    /// Those in brackets: a unit, mostly, and at times what the cells are.
    in_brackets: Vec<String>,
}

/// Whether the column's name is about dates.
pub(crate) fn names_a_date(name: &str) -> bool {
    Header::of(name).is_about_dates()
}

/// Whether the column's name says that its cells are times of day.
pub(crate) fn names_a_clock(name: &str) -> bool {
    Header::of(name).is_about_clocks()
}

/// The part of a date that the column's name names, where numbers alone could
/// be another: 5 is a month, a day and a week.
pub(crate) fn part_named(name: &str) -> Option<DatePart> {
    let header = Header::of(name);
    let has = |list: &str| header.words.iter().any(|word| is_one(list, word));
    let lists = [
        (DatePart::Month, MONTHS),
        (DatePart::Day, DAYS),
        (DatePart::Week, WEEKS),
    ];
    let mut named = lists.into_iter().filter(|(_, list)| has(list));
    let (part, _) = named.next()?;
    named.next().is_none().then_some(part)
}

/// Which end of a span of time a column is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Side {
    /// Where it begins.
    Start,
    /// Where it ends.
    End,
}

/// Which end of a span of time the column's name says that it is.
pub(crate) fn side_named(name: &str) -> Option<Side> {
    let header = Header::of(name);
    let has = |list: &str| header.words.iter().any(|word| is_one(list, word));
    match (has(STARTS), has(FINISHES)) {
        (true, false) => Some(Side::Start),
        (false, true) => Some(Side::End),
        _ => None,
    }
}

impl Header {
    /// The words of `name`: parted by signs, and where a capital letter follows
    /// a small one.
    pub(super) fn of(name: &str) -> Header {
        let (mut outside, mut inside) = (String::new(), String::new());
        let mut depth = 0_usize;
        for letter in name.chars() {
            match letter {
                '(' | '[' | '{' => depth += 1,
                ')' | ']' | '}' => depth = depth.saturating_sub(1),
                _ if depth > 0 => inside.push(letter),
                _ => outside.push(letter),
            }
            if matches!(letter, '(' | ')' | '[' | ']' | '{' | '}') {
                outside.push(' ');
                inside.push(' ');
            }
        }
        Header {
            words: words(&outside),
            in_brackets: words(&inside),
        }
    }

    /// Whether the name is about dates.
    pub(super) fn is_about_dates(&self) -> bool {
        let last = self.words.last();
        if last.is_some_and(|last| is_one(QUANTITIES, last)) {
            return false;
        }
        self.has_date()
            || self.ends_with_span()
            || self.starts_with_span()
            || self.is_born()
            || self.is_done_on()
    }

    /// Whether the name is about dates, times or lengths of time of any sort.
    pub(super) fn is_about_time(&self) -> bool {
        self.is_about_dates()
            || self.is_about_lengths()
            || self.is_ahead()
            || self.is_about_clocks()
            || self.period().is_some()
    }

    /// Whether the cells may be points in time by their name, if they look like it:
    /// `created`, `epoch`.
    pub(super) fn may_be_moments(&self) -> bool {
        let last = self.words.last();
        self.is_about_time() || last.is_some_and(|last| is_done(last) || last == "epoch")
    }

    /// Whether the name says that the cells are times of day.
    pub(super) fn is_about_clocks(&self) -> bool {
        self.words.last().is_some_and(|last| is_one(TIMES, last))
    }

    /// Whether the cells may be times of day by their name, if they look like it:
    /// `departure`, `open from`.
    pub(super) fn may_be_clocks(&self) -> bool {
        let is_one_of = |word: &String| {
            [STARTS, FINISHES, TIMETABLE]
                .into_iter()
                .any(|list| is_one(list, word))
        };
        self.is_about_clocks() || self.words.iter().any(is_one_of)
    }

    /// The kind of the months or quarters that the name says the cells are.
    pub(super) fn period(&self) -> Option<Kind> {
        let last = self.words.last()?;
        let is_compound = || MONTH_ENDS.split_whitespace().any(|end| last.ends_with(end));
        if is_one(QUARTERS, last) {
            Some(Kind::Quarter)
        } else if self.ends_with_span() && is_one(MONTHS, last) || is_compound() {
            Some(Kind::Month)
        } else {
            None
        }
    }

    /// Whether the name says years: `year built`, `Baujahr`.
    pub(super) fn says_years(&self) -> bool {
        let ends = |word: &str| YEAR_ENDS.split_whitespace().any(|end| word.ends_with(end));
        (self.words.iter()).any(|word| is_one(YEARS, word) || ends(word))
    }

    /// Whether the name says that clock-like cells are lengths of time.
    pub(super) fn is_about_lengths(&self) -> bool {
        let ends = |list: &str| self.words.last().is_some_and(|last| is_one(list, last));
        let is_length = self.words.iter().any(|word| is_one(LENGTHS, word));
        let hours = self.words.iter().position(|word| word == "hours");
        let are_hours = hours.is_some_and(|index| {
            let before = index.checked_sub(1).map(|before| &self.words[before]);
            before.is_none_or(|before| !is_one(OPENING, before))
        });
        (is_length || are_hours) && !ends(ENDS)
    }

    /// Whether the name says that the cells are counted by some time: `fee per
    /// day`.
    pub(super) fn is_about_rates(&self) -> bool {
        let ends_with_span = self.words.last().is_some_and(|last| is_span(last));
        ends_with_span && !self.is_about_dates()
    }

    /// Whether the name says that the cells are numbers or codes.
    pub(super) fn is_about_codes(&self) -> bool {
        self.words.last().is_some_and(|last| is_one(CODES, last))
    }

    /// Whether the name says that the cells are weeks.
    pub(super) fn is_about_weeks(&self) -> bool {
        self.words.last().is_some_and(|last| is_one(WEEKS, last))
    }

    /// Whether the dates are those of births.
    pub(super) fn is_about_births(&self) -> bool {
        self.words.iter().any(|word| is_one(BIRTHS, word))
    }

    /// Whether the dates may be ahead.
    pub(super) fn is_ahead(&self) -> bool {
        self.words.iter().any(|word| is_one(AHEAD, word))
    }

    /// Whether the name has `word`.
    pub(super) fn has(&self, word: &str) -> bool {
        self.words.iter().any(|own| own == word)
    }

    fn has_date(&self) -> bool {
        let is_date = |word: &String| {
            let before = word.strip_suffix("date");
            is_one(DATES, word)
                || DATE_ENDS.split_whitespace().any(|end| word.ends_with(end))
                || before.is_some_and(|before| is_one(BEFORE_DATE, before))
        };
        let is_data = match &self.words[..] {
            [data] => data == "data",
            [data, next, ..] => data == "data" && is_one(BEHIND_DATA, next),
            [] => false,
        };
        let last = self.words.len().saturating_sub(1);
        let is_head = |index: usize| {
            index == 0 || index == last || is_one(BEHIND_DATE, &self.words[index + 1])
        };
        let mut words = self.words.iter().enumerate();
        is_data
            || words.any(|(index, word)| is_date(word) && is_head(index))
            || self.in_brackets.iter().any(is_date)
    }

    /// `report month`, and not `salary per month`.
    fn ends_with_span(&self) -> bool {
        let [before @ .., last] = &self.words[..] else {
            return false;
        };
        let is_rate = match before {
            [.., counted, sign] if sign == "/" => !is_span(counted),
            [.., word] => is_one(QUANTIFIERS, word),
            [] => false,
        };
        is_span(last) && !is_rate
    }

    /// `year built`, and not `month end balance`.
    fn starts_with_span(&self) -> bool {
        match &self.words[..] {
            [span, next, ..] => {
                is_span(span) && (is_one(BEHIND_SPAN, next) || next.ends_with("ed"))
            }
            _ => false,
        }
    }

    /// `entered on`, and not `hands on`.
    fn is_done_on(&self) -> bool {
        match &self.words[..] {
            [.., done, on] => is_done(done) && is_one(DONE_ON, on),
            _ => false,
        }
    }

    /// `born`, and not `live born`.
    fn is_born(&self) -> bool {
        match &self.words[..] {
            [only] => only == "born" || only == "birth",
            [first, ..] => first == "born",
            [] => false,
        }
    }
}

/// The words of a part of a name.
fn words(text: &str) -> Vec<String> {
    let mut words = vec![String::new()];
    let letters: Vec<char> = text.chars().collect();
    for (index, &letter) in letters.iter().enumerate() {
        if letter == '/' {
            // A rate: `kWh / year`.
            words.extend(["/".to_owned(), String::new()]);
        } else if !letter.is_alphanumeric() && !is_mark(letter) {
            words.push(String::new());
        } else {
            let before = index.checked_sub(1).map(|before| letters[before]);
            let next = letters.get(index + 1);
            let is_camel = letter.is_uppercase()
                && (before.is_some_and(char::is_lowercase)
                    || before.is_some_and(char::is_uppercase)
                        && next.is_some_and(|next| next.is_lowercase()));
            if is_camel {
                words.push(String::new());
            }
            let last = words.len() - 1;
            words[last].extend(letter.to_lowercase());
        }
    }
    words.retain(|word| !word.is_empty());
    words
}

/// Whether `word` is something that was done: `entered`, `payé`.
fn is_done(word: &str) -> bool {
    let ends = |end: &str| word.ends_with(end) && word.len() > end.len() + 1;
    !is_one(NOT_DONE, word) && (is_one(DONE, word) || DONE_ENDS.split_whitespace().any(ends))
}

/// Whether `word` is one of a list of words, with spaces between them.
fn is_span(word: &str) -> bool {
    [YEARS, MONTHS, DAYS].iter().any(|list| is_one(list, word))
}

fn is_one(list: &str, word: &str) -> bool {
    let mut known = list.split_whitespace();
    known.any(|known| known == word || is_without_accents(known, word))
}

/// Whether `word` is `known` in plain letters: names of columns are often written
/// in those (`kwartal`, `ctvrtleti`).
fn is_without_accents(known: &str, word: &str) -> bool {
    let mut pairs = known.chars().zip(word.chars());
    // Most differ in their first letter.
    pairs.all(|(known, plain)| known == plain || !known.is_ascii())
        && !known.is_ascii()
        && word.is_ascii()
        && known.chars().count() == word.len()
        && without_accents(known) == word
}

/// Marks on letters of scripts that write vowels so.
fn is_mark(letter: char) -> bool {
    ('\u{0900}'..='\u{0e4e}').contains(&letter)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_about_dates() {
        for name in [
            "date",
            "Date of birth",
            "InvoiceDate",
            "due_date",
            "dueDate",
            "DUEDATE",
            "date in",
            "Loan date (UTC)",
            "year",
            "year built",
            "Report month",
            "birth year",
            "month of birth",
            "day",
            "DOB",
            "born",
            "Born on",
            "timestamp",
            "date_serial",
            "Datum",
            "Rechnungsdatum",
            "fecha",
            "data",
            "Data di nascita",
            "тест дата",
            "日付",
            "出生日期",
            "month/year",
            "år",
            "dateOfDeath",
            "Booked (date)",
            "Date/Time",
            "entered on",
            "logged_at",
            "Sold on",
            "payé le",
        ] {
            assert!(Header::of(name).is_about_dates(), "{name}");
        }
        for name in [
            "salary per month",
            "visitors per day",
            "kWh / year",
            "live born",
            "mileage this year",
            "birth weight",
            "month end balance",
            "price per day (JPY)",
            "candidate",
            "last update",
            "data size",
            "amount",
            "",
            "days open",
            "Today's rate a day",
            "place of birth code",
            "monthly",
            "birthday party cost",
            "date count",
            "invoice date net",
            "holiday",
            "hands on",
            "red at",
            "valued at",
            "based on",
            "looked at by",
        ] {
            assert!(!Header::of(name).is_about_dates(), "{name}");
        }
    }

    #[test]
    fn names_about_lengths() {
        for name in [
            "duration",
            "callDuration",
            "wait_time_hms",
            "break",
            "Dauer",
            "durée (h)",
            "overtime",
            "hours worked",
            "delay",
            "Run length",
        ] {
            assert!(Header::of(name).is_about_lengths(), "{name}");
        }
        for name in [
            "break start",
            "opening hours",
            "start",
            "time",
            "hour",
            "wait until",
        ] {
            assert!(!Header::of(name).is_about_lengths(), "{name}");
        }
    }
}
