//! Answers as the command line takes them.

use crate::form::Form;
use crate::rulings::FormRuling;
use serde::Serialize as _;

/// The setting that a column is read by these forms.
pub(super) fn forms_setting(column: &str, forms: &[FormRuling]) -> String {
    let written = |form: &FormRuling| form.serialize(toml_edit::ser::ValueSerializer::new()).ok();
    let forms: toml_edit::Array = forms.iter().filter_map(written).collect();
    setting(column, "read.forms", forms.to_string().trim())
}

/// The option that a column is read by these forms alone.
pub(super) fn forms_option<'f>(column: &str, forms: impl Iterator<Item = &'f Form>) -> String {
    let forms = forms.map(|form| format!(" --read-form {}", shell_text(&form.to_string())));
    format!("-c {}{}", shell_word(column), forms.collect::<String>())
}

/// `column.key=value` as `--set` takes it.
pub(super) fn setting(column: &str, key: &str, value: &str) -> String {
    format!("{}.{key}={value}", toml_key(column))
}

/// A name as a key of TOML, in quotes where it needs them.
pub(super) fn toml_key(name: &str) -> String {
    let is_plain = |byte: u8| byte.is_ascii_alphanumeric() || byte == b'_' || byte == b'-';
    if !name.is_empty() && name.bytes().all(is_plain) {
        name.to_owned()
    } else {
        toml_edit::Value::from(name).to_string()
    }
}

pub(super) fn shell_word(word: &str) -> String {
    let plain = |c: char| c.is_alphanumeric() || "_-.".contains(c);
    if !word.is_empty() && word.chars().all(plain) {
        word.to_owned()
    } else {
        shell_text(word)
    }
}

pub(super) fn shell_text(text: &str) -> String {
    format!("'{}'", text.replace('\'', r"'\''"))
}
