//! One spelling for words that differ in case, accents or code points alone.

use super::han_numbers::with_digits;
use icu_normalizer::{ComposingNormalizerBorrowed, DecomposingNormalizerBorrowed};
use icu_properties::CodePointMapData;
use icu_properties::props::{GeneralCategory, GeneralCategoryGroup, Script};

/// The value of a decimal digit of any script. Unicode keeps the ten digits of
/// a script side by side, zero first (The Unicode Standard, §4.6).
fn digit(letter: char) -> Option<u8> {
    let categories = CodePointMapData::<GeneralCategory>::new();
    let is_digit = |code| categories.get32(code) == GeneralCategory::DecimalNumber;
    let code = u32::from(letter);
    if !is_digit(code) {
        return None;
    }
    let before = (1..=code).take_while(|back| is_digit(code - back)).count();
    Some((before % 10) as u8)
}

/// The ASCII character that `letter` stands for in a date: its digit, its
/// half-width form, its plain hyphen, comma or apostrophe.
fn plain(letter: char) -> char {
    let code = u32::from(letter);
    if code < 0x660 {
        return match letter {
            '\u{60c}' => ',',
            '\u{61b}' => ';',
            other => other,
        };
    }
    if let Some(value) = digit(letter) {
        return char::from(b'0' + value);
    }
    match letter {
        // Full-width forms of ASCII.
        '\u{ff01}'..='\u{ff5e}' => char::from((code - 0xfee0) as u8),
        // Hyphens, the figure dash, the minus sign.
        '\u{2010}' | '\u{2011}' | '\u{2012}' | '\u{2212}' => '-',
        '\u{2018}' | '\u{2019}' => '\'',
        '\u{66b}' => '.',
        '\u{66c}' | '\u{1363}' | '\u{104a}' | '\u{2e41}' => ',',
        '\u{2236}' => ':',
        other => other,
    }
}

/// Whether `letter` is never seen: marks of writing direction, zero-width
/// spaces, the byte order mark.
fn is_unseen(letter: char) -> bool {
    matches!(
        letter,
        '\u{200b}'
            | '\u{200e}'
            | '\u{200f}'
            | '\u{202a}'..='\u{202e}'
            | '\u{2066}'..='\u{2069}'
            | '\u{61c}'
            | '\u{feff}'
            | '\u{2060}'
            | '\u{ad}'
            | '\u{70f}'
    )
}

/// Writes `text` into `plain_text` with every digit, sign and space that has
/// an ASCII equal replaced by it, numbers in Han characters in digits, unseen characters
/// left out and letters composed (NFC). Says whether that differs from `text`.
pub(crate) fn plain_text(text: &str, out: &mut String) -> bool {
    if text.is_ascii() {
        return false;
    }
    let in_digits = with_digits(text);
    let needed = in_digits.is_some()
        || text.chars().any(|letter| {
            !letter.is_ascii()
                && (plain(letter) != letter || letter.is_whitespace() || is_unseen(letter))
        });
    let composed = ComposingNormalizerBorrowed::new_nfc();
    if !needed && composed.is_normalized(text) {
        return false;
    }
    out.clear();
    let text = in_digits.as_deref().unwrap_or(text);
    let letters = text.chars().filter(|letter| !is_unseen(*letter));
    out.extend(composed.normalize_iter(letters).map(|letter| {
        if !letter.is_ascii() && letter.is_whitespace() {
            ' '
        } else {
            plain(letter)
        }
    }));
    true
}

/// The lower-case letters of `letter`, the same wherever it stands: the Greek sigma that
/// ends a word is the one within, and the Turkish `İ` is an `i` without a second dot.
pub(super) fn lower(letter: char) -> impl Iterator<Item = char> {
    let letter = match letter {
        'ς' => 'σ',
        'İ' => 'i',
        other => other,
    };
    letter.to_lowercase()
}

/// `letter` without its accents, if it has some.
pub(super) fn without_accent(letter: char) -> Option<char> {
    if letter.is_ascii() {
        return None;
    }
    let plain = without_accents(letter.encode_utf8(&mut [0; 4]));
    let mut plain = plain.chars();
    plain.next().filter(|plain| *plain != letter)
}

/// `name` with the letters of Germanic languages that others lack written as two, as
/// people do without them: `Maerz`, `loerdag`, `thridjudagur`; `None` where it has none.
pub(crate) fn spelled_out(name: &str) -> Option<String> {
    const LETTERS: [char; 8] = ['ä', 'æ', 'ö', 'ø', 'ü', 'å', 'ß', 'þ'];
    if name.is_ascii() || !name.contains(LETTERS) {
        return None;
    }
    let mut spelled = String::with_capacity(name.len());
    for letter in name.chars() {
        match letter {
            'ä' | 'æ' => spelled.push_str("ae"),
            'ö' | 'ø' => spelled.push_str("oe"),
            'ü' => spelled.push_str("ue"),
            'å' => spelled.push_str("aa"),
            'ß' => spelled.push_str("ss"),
            'þ' => spelled.push_str("th"),
            other => spelled.push(other),
        }
    }
    Some(without_accents(&spelled))
}

/// `name` without the accents that people leave out: those above and below
/// Latin, Greek and Cyrillic letters. Marks that are vowels stay.
pub(crate) fn without_accents(name: &str) -> String {
    if name.is_ascii() {
        return name.to_owned();
    }
    let script = CodePointMapData::<Script>::new();
    let decomposed = DecomposingNormalizerBorrowed::new_nfd().normalize(name);
    let mut kept = String::with_capacity(name.len());
    let mut base = ' ';
    for letter in decomposed.chars() {
        if !is_mark(letter) {
            base = without_stroke(letter);
            kept.push(base);
        } else if !matches!(
            script.get(base),
            Script::Latin | Script::Greek | Script::Cyrillic
        ) {
            kept.push(letter);
        }
    }
    ComposingNormalizerBorrowed::new_nfc()
        .normalize(&kept)
        .into_owned()
}

/// The letter without a stroke, which Unicode takes for a part of it.
fn without_stroke(letter: char) -> char {
    match letter {
        'ł' => 'l',
        'ø' => 'o',
        'đ' | 'ð' => 'd',
        'ı' => 'i',
        'Ł' => 'L',
        'Ø' => 'O',
        'Đ' | 'Ð' => 'D',
        other => other,
    }
}

fn is_mark(letter: char) -> bool {
    GeneralCategoryGroup::Mark.contains(CodePointMapData::<GeneralCategory>::new().get(letter))
}

/// Whether `letter` can be part of a word.
pub(crate) fn is_word_letter(letter: char) -> bool {
    if letter.is_ascii() {
        letter.is_ascii_alphabetic()
    } else {
        letter.is_alphabetic() || matches!(letter, '\u{200c}' | '\u{200d}') || is_mark(letter)
    }
}

/// Whether words of this letter's script are written without spaces, so that
/// a word may end where the next begins.
pub(crate) fn is_unspaced(letter: char) -> bool {
    !letter.is_ascii()
        && matches!(
            CodePointMapData::<Script>::new().get(letter),
            Script::Han
                | Script::Hiragana
                | Script::Katakana
                | Script::Hangul
                | Script::Thai
                | Script::Lao
                | Script::Khmer
                | Script::Myanmar
                | Script::Tibetan
                | Script::Yi
        )
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn digits_of_scripts() {
        for digits in ["٠١٩", "۰۱۹", "०१९", "๐๑๙", "၀၁၉", "０１９", "𝟎𝟏𝟗", "𝟬𝟭𝟵"]
        {
            let plain: String = digits.chars().map(plain).collect();
            assert_eq!(plain, "019", "{digits}");
        }
        assert_eq!(digit('½'), None);
    }

    #[test]
    fn plain_text_of_cells() {
        for (text, expected) in [
            ("٠٥‏/٠٣‏/٢٠٢٤، ٢:٣٠", "05/03/2024, 2:30"),
            ("２０２４／３／５", "2024/3/5"),
            ("5\u{a0}mars\u{202f}2024", "5 mars 2024"),
            ("5 fe\u{301}vr", "5 févr"),
            ("\u{feff}2024\u{2011}03", "2024-03"),
        ] {
            let mut out = String::new();
            assert!(plain_text(text, &mut out));
            assert_eq!(out, expected);
        }
        assert!(!plain_text("5 février 2024", &mut String::new()));
    }

    #[test]
    fn accents_go_and_vowel_signs_stay() {
        assert_eq!(without_accents("février"), "fevrier");
        assert_eq!(without_accents("Ιανουάριος"), "Ιανουαριος");
        assert_eq!(without_accents("फ़रवरी"), "फ़रवरी");
        assert_eq!(without_accents("มีนาคม"), "มีนาคม");
    }
}
