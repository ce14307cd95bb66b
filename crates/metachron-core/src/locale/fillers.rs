//! Words that stand inside dates without being a part of them.
//!
//! The list is every word that CLDR's date and time patterns hold as literal
//! text, in any locale (a test keeps that true), and a few that people write
//! besides. Each has a number, its place in the list, so that a shape can
//! tell `5 de mayo` from `5 of May` without looking at the text.

/// The words, in lower case, sorted by their code points.
const WORDS: [&str; 230] = [
    "a",
    "ag",
    "aig",
    "alle",
    "am",
    "an",
    "and",
    "at",
    "aã",
    "año",
    "años",
    "bi",
    "ci",
    "d",
    "da",
    "dales",
    "date",
    "de",
    "del",
    "den",
    "di",
    "dia",
    "dne",
    "dnia",
    "do",
    "día",
    "e",
    "ee",
    "et",
    "fọ",
    "g",
    "ga",
    "gada",
    "giây",
    "giờ",
    "goda",
    "godina",
    "godine",
    "godz",
    "h",
    "heure",
    "heures",
    "hod",
    "hora",
    "horas",
    "hr",
    "hs",
    "i",
    "ing",
    "isodate",
    "jam",
    "je",
    "ka",
    "kell",
    "kl",
    "klo",
    "klokken",
    "ko",
    "kvartal",
    "kvartál",
    "kw",
    "kwartaal",
    "kwartał",
    "ky",
    "kysã",
    "l",
    "la",
    "las",
    "le",
    "les",
    "lia",
    "lúc",
    "m",
    "met",
    "mh",
    "min",
    "na",
    "nang",
    "ndwen",
    "ne",
    "ngo",
    "ngoenz",
    "ngày",
    "ní",
    "năm",
    "o",
    "o'clock",
    "ob",
    "of",
    "og",
    "om",
    "on",
    "ore",
    "pada",
    "par",
    "phút",
    "plkst",
    "pukul",
    "quartal",
    "quarter",
    "quý",
    "ren",
    "roku",
    "s",
    "sa",
    "saa",
    "sagat",
    "sas",
    "st",
    "su",
    "ta",
    "tanggal",
    "the",
    "tháng",
    "timestamp",
    "trimester",
    "trimestre",
    "trimestru",
    "ts",
    "tti",
    "u",
    "uhr",
    "um",
    "und",
    "uri",
    "v",
    "val",
    "vaztam",
    "w",
    "wɔ",
    "y",
    "ye",
    "yil",
    "zeger",
    "à",
    "às",
    "ás",
    "ê",
    "čtvrtletí",
    "στις",
    "в",
    "во",
    "г",
    "год",
    "года",
    "година",
    "године",
    "году",
    "ел",
    "ж",
    "й",
    "кв",
    "квартал",
    "мин",
    "о",
    "оной",
    "оны",
    "р",
    "сарын",
    "сек",
    "соати",
    "сәгатьтә",
    "у",
    "ч",
    "ын",
    "һарын",
    "թ",
    "ב",
    "בשעה",
    "ساعت",
    "في",
    "په",
    "پٮ۪ٹھؠ",
    "ی",
    "ܒ",
    "ܒܫܥܬܐ",
    "आँ",
    "के",
    "को",
    "गी",
    "तदा",
    "ते",
    "नि",
    "पेठ",
    "बजे",
    "याव",
    "रोजी",
    "वरांचेर",
    "वाजता",
    "এ",
    "গী",
    "দা",
    "ଆଁ",
    "ଠାରେ",
    "அன்று",
    "కి",
    "త",
    "ರಂದು",
    "ಸಮಯಕ್ಕೆ",
    "ന്",
    "දින",
    "ที่",
    "เวลา",
    "ሰዓት",
    "នៅ",
    "ម៉ោង",
    "分",
    "四半期",
    "季度",
    "年",
    "日",
    "时",
    "時",
    "月",
    "点",
    "秒",
    "第",
    "點",
    "ꆪ",
    "ꈎ",
    "ꑍ",
    "ꭴꮎꭲ",
    "년",
    "분",
    "분기",
    "시",
    "월",
    "일",
    "초",
    "𞤫",
];

/// What a word says of the number or the time next to it. Most words say
/// nothing: they join a day to its month, or a date to its time.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Sign {
    /// The number before it is a year: `年`.
    Year,
    /// The number before it is a month.
    Month,
    /// The number before it is a day.
    Day,
    /// The number before it is an hour.
    Hour,
    /// The number before it is a minute.
    Minute,
    /// The number before it is a second.
    Second,
    /// The number next to it is a quarter of a year.
    Quarter,
    /// A time of day stands before it: `Uhr`.
    Clock,
    /// A time of day comes, however it is written: `klo`.
    ClockComes,
    /// A time of day comes, if it is written with colons: `at`.
    ClockMayCome,
    /// A date comes: `ngày`.
    DateComes,
    /// One length of time more comes: `and`.
    Joins,
    /// A date comes in brackets or quotes, as programs write it: `Date(`.
    DateIsQuoted,
    /// A date in digits alone comes: `D:`.
    DateInDigits,
}

/// The words that say something. `3 of 12` is no time, and `1.50 g` no clock.
const SIGNS: [(Sign, &[&str]); 14] = [
    (Sign::Year, &["年", "년", "ꈎ", "оны", "оной", "ndwen"]),
    (Sign::Month, &["月", "월", "ꆪ", "сарын", "һарын", "ngoenz"]),
    (Sign::Day, &["日", "일", "ꑍ"]),
    (
        Sign::Hour,
        &["時", "时", "點", "点", "시", "giờ", "ч", "val"],
    ),
    (Sign::Minute, &["分", "분", "phút", "min", "мин"]),
    (Sign::Second, &["秒", "초", "giây", "s", "сек"]),
    (
        Sign::Quarter,
        &[
            "quarter",
            "quartal",
            "trimestre",
            "trimester",
            "trimestru",
            "kwartał",
            "kw",
            "kwartaal",
            "kvartal",
            "kvartál",
            "čtvrtletí",
            "кв",
            "квартал",
            "quý",
            "季度",
            "四半期",
            "분기",
        ],
    ),
    (
        Sign::Clock,
        &[
            "uhr",
            "tti",
            "vaztam",
            "сәгатьтә",
            "याव",
            "वरांचेर",
            "o'clock",
            "hod",
            "hs",
        ],
    ),
    (
        Sign::ClockComes,
        &[
            "kl",
            "klo",
            "klokken",
            "godz",
            "plkst",
            "ore",
            "kell",
            "pukul",
            "jam",
            "lúc",
            "um",
            "om",
            "saa",
            "sagat",
            "соати",
            "ساعت",
            "בשעה",
            "เวลา",
        ],
    ),
    (
        Sign::ClockMayCome,
        &[
            "at", "à", "às", "в", "о", "у", "las", "les", "alle", "ás", "στις",
        ],
    ),
    (
        Sign::DateComes,
        &[
            "ngày",
            "tanggal",
            "dia",
            "día",
            "di",
            "den",
            "dnia",
            "dne",
            "am",
            "le",
            "on",
            "the",
            "ที่",
        ],
    ),
    (Sign::Joins, &["and", "und", "et", "og", "y", "e", "i"]),
    (
        Sign::DateIsQuoted,
        &["d", "date", "isodate", "timestamp", "ts"],
    ),
    (Sign::DateInDigits, &["d"]),
];

/// Whether word `number` is such a sign.
pub fn is_sign(number: u16, sign: Sign) -> bool {
    let word = filler_text(number);
    let mut signs = SIGNS.iter();
    signs.any(|(known, words)| *known == sign && words.contains(&word))
}

/// The number of `word`, which is in lower case.
///
/// ```
/// use metachron_core::locale::{filler, filler_text};
///
/// let number = filler("uhr").unwrap();
/// assert_eq!(filler_text(number), "uhr");
/// assert_eq!(filler("rotterdam"), None);
/// ```
pub fn filler(word: &str) -> Option<u16> {
    let index = WORDS.binary_search(&word).ok()?;
    u16::try_from(index).ok()
}

/// The word with this number; nothing for a number that no word has.
pub fn filler_text(number: u16) -> &'static str {
    WORDS.get(usize::from(number)).copied().unwrap_or("")
}

/// Every word.
pub(super) fn fillers() -> impl Iterator<Item = &'static str> {
    WORDS.into_iter()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_words_are_sorted() {
        assert!(WORDS.is_sorted());
    }
}
