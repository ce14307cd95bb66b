//! A form in a rulings file: settled, or still open between several.

use super::GroupRuling;
use crate::form::Form;
use serde::de::value::MapAccessDeserializer;
use serde::de::{Error, MapAccess, SeqAccess, Visitor};
use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// One entry of `forms`.
///
/// A list within the list is a form that is still open: cells that its
/// patterns read differently stay open, cells that only one of them can read
/// are converted. To decide, keep the pattern that is right.
///
/// ```toml
/// read = { forms = ["yyyy-MM-dd", ["d/M/yyyy", "M/d/yyyy"]] }
/// ```
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum FormRuling {
    /// Cells of this form are read so.
    Settled(Form),
    /// Cells of this form are one of these.
    Open(Vec<Form>),
    /// Cells of this form are one of several, and another column says which.
    ByGroup(GroupRuling),
}

impl FormRuling {
    /// The form, or every form that is still possible.
    pub fn alternatives(&self) -> &[Form] {
        match self {
            FormRuling::Settled(form) => std::slice::from_ref(form),
            FormRuling::Open(forms) => forms,
            FormRuling::ByGroup(group) => &group.either,
        }
    }
}

impl Serialize for FormRuling {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        match self {
            FormRuling::Settled(form) => serializer.collect_str(form),
            FormRuling::Open(forms) => serializer.collect_seq(forms.iter().map(Form::to_string)),
            FormRuling::ByGroup(group) => group.serialize(serializer),
        }
    }
}

impl<'de> Deserialize<'de> for FormRuling {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
        deserializer.deserialize_any(FormVisitor)
    }
}

/// Not an untagged enum: that would forget why a pattern is wrong, and where.
struct FormVisitor;

impl<'de> Visitor<'de> for FormVisitor {
    type Value = FormRuling;

    fn expecting(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(
            "a pattern such as \"dd/MM/yyyy\", a list of patterns, or \
             { either = [PATTERN, …], by = \"COLUMN\", orders = { VALUE = \"dmy\", … } }",
        )
    }

    fn visit_str<E: Error>(self, pattern: &str) -> Result<FormRuling, E> {
        compile(pattern).map(FormRuling::Settled)
    }

    fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<FormRuling, A::Error> {
        let mut forms = Vec::new();
        while let Some(pattern) = list.next_element::<String>()? {
            forms.push(compile(&pattern)?);
        }
        Ok(FormRuling::Open(forms))
    }

    fn visit_map<A: MapAccess<'de>>(self, map: A) -> Result<FormRuling, A::Error> {
        GroupRuling::deserialize(MapAccessDeserializer::new(map)).map(FormRuling::ByGroup)
    }
}

/// Forms, as the texts of their patterns.
pub(super) mod several {
    use super::{Deserialize, Deserializer, Form, Serializer, compile};

    pub fn serialize<S: Serializer>(forms: &[Form], serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_seq(forms.iter().map(Form::to_string))
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(deserializer: D) -> Result<Vec<Form>, D::Error> {
        let patterns = Vec::<String>::deserialize(deserializer)?;
        patterns.iter().map(|pattern| compile(pattern)).collect()
    }
}

/// A form, as the text of its pattern.
pub(super) mod one {
    use super::{Deserialize, Deserializer, Form, Serializer, compile};

    pub fn serialize<S: Serializer>(form: &Option<Form>, serializer: S) -> Result<S::Ok, S::Error> {
        match form {
            Some(form) => serializer.collect_str(form),
            None => serializer.serialize_none(),
        }
    }

    pub fn deserialize<'de, D: Deserializer<'de>>(
        deserializer: D,
    ) -> Result<Option<Form>, D::Error> {
        let pattern = String::deserialize(deserializer)?;
        compile(&pattern).map(Some)
    }
}

fn compile<E: Error>(pattern: &str) -> Result<Form, E> {
    pattern
        .parse()
        .map_err(|cause| E::custom(format_args!("pattern `{pattern}`: {cause}")))
}
