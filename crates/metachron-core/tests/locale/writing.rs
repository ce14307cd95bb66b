//! Writing instants by a pattern, in a locale.

use metachron_core::decide::Decider;
use metachron_core::locale::Tag;
use metachron_core::rulings::Rulings;

/// What `instants` are in `pattern`, as `tag` writes them; nothing where they cannot be
/// written so.
pub fn written(tag: &Tag, pattern: &str, instants: &[String]) -> Option<Vec<String>> {
    let quoted = pattern.replace('\\', "\\\\").replace('"', "\\\"");
    let rulings = format!(
        "metachron = 1\n[column.x]\nkind = \"datetime\"\n\
         read.forms = [\"yyyy-MM-dd'T'HH:mm:ss\"]\n\
         write = {{ pattern = \"{quoted}\", locale = \"{tag}\" }}\n"
    );
    let rulings = Rulings::from_toml(&rulings).ok()?;
    let mut decider = Decider::new(&rulings, "x").ok()??;
    let cells = instants.iter().map(|instant| {
        let mut text = Vec::new();
        let (_, cell) = decider.convert(instant.as_str(), &mut text);
        cell.text(&text)
    });
    let cells: Vec<String> = cells.collect();
    cells.iter().all(|cell| !cell.is_empty()).then_some(cells)
}
