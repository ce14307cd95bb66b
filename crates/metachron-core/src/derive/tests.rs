use super::*;

/// Derivations of `phrases`, in order, from the columns `n`, `note` and `due`,
/// the last of which is ruled.
fn derivations(phrases: &[&str], keep: Option<&str>, also: &[&str]) -> Derivations {
    let mut rulings = "metachron = 1\n[column.due]\nkind = \"date\"\n".to_owned();
    for (index, phrase) in phrases.iter().enumerate() {
        rulings += &format!("[[derive]]\nname = \"made {index}\"\nvalue = '''{phrase}'''\n");
    }
    Derivations::new(&DeriveRequest {
        rulings: &Rulings::from_toml(&rulings).unwrap(),
        columns: &["n", "note", "due"].map(str::to_owned),
        keep: keep.map(|keep| keep.parse::<Phrase>().unwrap()).as_ref(),
        also: &also.iter().map(|&name| name.to_owned()).collect::<Vec<_>>(),
        now: "2026-11-24T12:00:00Z".parse().unwrap(),
        shown: Shown::default(),
    })
    .unwrap()
}

#[test]
fn what_is_wanted_of_cells() {
    use CellUse::{Number, Text};
    for (phrases, keep, also, cell_use) in [
        (&["n * 2"][..], None, &[][..], Number),
        (&["due + n days"], None, &[], Number),
        (&["-n"], None, &[], Number),
        (&["n as number"], None, &[], Number),
        (&["n + n", "n between 1 and 3"], None, &[], Number),
        (&["if n > 3 then 1 else 2"], None, &[], Number),
        (&["date from 2024, 2, n"], Some("n > 0"), &[], Number),
        // A month may have a name.
        (&["date from 2024, n, 1"], None, &[], Text),
        (&["n"], None, &[], Text),
        (&["n as text"], None, &[], Text),
        (&["n is blank"], None, &[], Text),
        (&["n = note"], None, &[], Text),
        (&["(n otherwise note) as number"], None, &[], Text),
        (&["n * 2"], Some("n = \"3\""), &[], Text),
        (&["n * 2", "`made 0` > 3 or n is blank"], None, &[], Text),
        // Sorted as the texts that they are.
        (&["n * 2"], None, &["n"], Text),
    ] {
        let derivations = derivations(phrases, keep, also);
        let source = derivations.index("n").unwrap();
        assert_eq!(
            derivations.cell_use(source),
            cell_use,
            "{phrases:?} {keep:?}"
        );
    }
}

/// A cell gives the same whether its text is there or its number.
#[test]
fn numbers_and_their_texts_are_the_same() {
    let phrases = [
        "n * 2",
        "due + n days",
        "n > 3",
        "-n",
        "date from 2024, 2, n",
    ];
    let due = || Value::Stamp(Stamp::Date(jiff::civil::date(2024, 1, 31)));
    for text in [
        "3",
        "3.0",
        "007",
        "-1",
        "\u{2212}2",
        "0.5",
        "30",
        "1e3",
        "x",
        " 4 ",
    ] {
        for phrase in phrases {
            let mut derivations = derivations(&["due", phrase], None, &[]);
            let (n, at) = (derivations.index("n"), derivations.index("due"));
            let mut run = |cell: Value| {
                let mut values = vec![Value::Blank; derivations.sources().len() + 2];
                for (index, value) in [(n, cell), (at, due())] {
                    values[index.unwrap()] = value;
                }
                let mut out = Vec::new();
                let given = derivations.run(1, &mut values, &[], &mut out);
                (
                    given.map_err(|why| why.to_string()),
                    String::from_utf8(out).unwrap(),
                )
            };
            let by_text = run(Value::Text(text.to_owned()));
            let Some(number) = crate::phrase::Number::parse(text) else {
                assert!(by_text.0.unwrap_err().contains("is no number"), "{text}");
                continue;
            };
            assert_eq!(run(Value::Number(number)), by_text, "{phrase} of {text}");
        }
    }
}
