use super::*;
use crate::form::{Century, Form};
use crate::lex::Lexer;
use crate::reading::Readings;
use crate::rulings::Rulings;
use proptest::prelude::*;

fn plan(read: &str, cell: &str) -> ShapePlan {
    let text = format!("metachron = 1\n[column.x]\nkind = \"date\"\nread = {{ {read} }}\n");
    let rulings = Rulings::from_toml(&text).unwrap();
    let mut lexer = Lexer::default();
    let shape = lexer.lex(cell).unwrap().shape();
    let ruling = &rulings.column["x"];
    ShapePlan::of(ruling, Readings::new(shape, &ruling.read.all_forms()))
}

fn judge(read: &str, cell: &str) -> (Verdict, String) {
    let plan = plan(read, cell);
    let mut lexer = Lexer::default();
    let cell = lexer.lex(cell).unwrap();
    let (outcome, stamps) = plan.readings().of(&cell, plan.conventions());
    let judgement = plan.judge(&outcome, plan.hint(&cell, plan.conventions(), &stamps));
    let stamp = match judgement {
        Judgement::Certain(index) | Judgement::Settled(index) => stamps[index].unwrap().to_string(),
        _ => String::new(),
    };
    (judgement.verdict(), stamp)
}

#[test]
fn a_ruling_chooses_and_says_so() {
    use Verdict::{Certain, Open, Settled, Unreadable};
    let dmy = "forms = [\"d/M/yyyy\"]";
    let strict = "forms = [\"dd/MM/yyyy\"]";
    let open = "forms = [[\"d/M/yyyy\", \"M/d/yyyy\"]]";
    let ydm = "forms = [\"yyyy/d/M\"]";
    let either = "forms = [\"yyyy-MM-dd\", [\"d/M/yyyy\", \"M/d/yyyy\"]]";
    let wrong_order = "forms = [[\"d/M/yyyy\", \"M/d/yyyy\"]], order = \"ymd\"";
    for (read, cell, verdict, stamp) in [
        (dmy, "25/12/2024", Certain, "2024-12-25"),
        (dmy, "01/12/2024", Settled, "2024-12-01"),
        (dmy, "12/25/2024", Unreadable, ""),
        (strict, "1/12/2024", Unreadable, ""),
        (strict, "01/12/2024", Settled, "2024-12-01"),
        (strict, "25/12/2024", Certain, "2024-12-25"),
        (open, "01/12/2024", Open, ""),
        (open, "25/12/2024", Certain, "2024-12-25"),
        // The ruling may choose what nobody is known to write.
        (ydm, "2024/05/03", Settled, "2024-03-05"),
        (ydm, "2024/25/03", Certain, "2024-03-25"),
        (either, "2024-03-05", Certain, "2024-03-05"),
        (either, "03/05/2024", Open, ""),
        // An order that no alternative has decides nothing.
        (wrong_order, "03/05/2024", Open, ""),
    ] {
        assert_eq!(
            judge(read, cell),
            (verdict, stamp.to_owned()),
            "{cell} under {read}"
        );
    }
}

#[test]
fn verdicts_have_names_of_their_own() {
    let all = [
        Verdict::Certain,
        Verdict::Settled,
        Verdict::Open,
        Verdict::Unreadable,
        Verdict::Blank,
    ];
    let names: std::collections::HashSet<&str> = all.iter().map(|v| v.name()).collect();
    assert_eq!(names.len(), all.len());
    let review: Vec<Verdict> = all.into_iter().filter(|v| v.needs_review()).collect();
    assert_eq!(review, [Verdict::Open, Verdict::Unreadable]);
}

fn cell() -> impl Strategy<Value = String> {
    prop_oneof![
        "[0-3]?[0-9]/[0-3]?[0-9]/20[0-9]{2}",
        "[0-3][0-9]\\.[0-3][0-9]\\.[0-9]{2}",
        "20[0-9]{2}-[0-1][0-9]-[0-3][0-9]( [0-2][0-9]:[0-6][0-9])?",
    ]
}

proptest! {
    /// A cell is certain only if every usual way to read it, its century
    /// known, gives that one stamp.
    #[test]
    fn certain_means_one_reading(text in cell()) {
        let read = "forms = [\"d/M/yyyy\", \"M/d/yyyy\", \"yyyy-MM-dd\", \"d.M.yy\"]";
        let (verdict, stamp) = judge(read, &text);
        if verdict == Verdict::Certain {
            let mut lexer = Lexer::default();
            let cell = lexer.lex(&text).unwrap();
            let readings = crate::reading::Readings::new(cell.shape(), &[]);
            let (_, stamps) = readings.of(&cell, Century::Open.into());
            for (candidate, other) in readings.candidates().iter().zip(stamps) {
                prop_assert!(!candidate.form.has_two_digit_year());
                if let (true, Ok(other)) = (candidate.usual, other) {
                    prop_assert_eq!(other.to_string(), stamp.clone());
                }
            }
        }
    }

    /// The note on a cell has the verdict that the cell gets, and a reason
    /// wherever it waits.
    #[test]
    fn notes_agree_with_verdicts(text in cell()) {
        let read = "forms = [[\"d/M/yyyy\", \"M/d/yyyy\"], \"dd.MM.yy\"]";
        let plan = plan(read, &text);
        let mut lexer = Lexer::default();
        let note = plan.decide(&lexer.lex(&text).unwrap(), crate::form::RowFacts::default());
        prop_assert_eq!(note.verdict, judge(read, &text).0);
        prop_assert_eq!(note.verdict.needs_review(), !note.sentence().is_empty());
    }

    /// Adding a form behind others changes nothing for cells they read.
    #[test]
    fn earlier_forms_come_first(text in "[0-3]?[0-9]/[0-3]?[0-9]/20[0-9]{2}") {
        let one = judge("forms = [\"d/M/yyyy\"]", &text);
        let two = judge("forms = [\"d/M/yyyy\", \"M/d/yyyy\"]", &text);
        if matches!(one.0, Verdict::Certain | Verdict::Settled) {
            prop_assert_eq!(one, two);
        }
    }
}

#[test]
fn a_form_that_fits_no_shape_is_no_choice() {
    let form: Form = "HH:mm".parse().unwrap();
    let mut lexer = Lexer::default();
    assert!(
        form.fit(&lexer.lex("2024-03-05").unwrap().shape())
            .is_none()
    );
    assert!(
        plan("forms = [\"HH:mm\"]", "2024-03-05")
            .choices()
            .is_empty()
    );
}
