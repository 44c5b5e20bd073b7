//! Texts in tables: a spreadsheet takes what begins as a formula for one, and carries it out.

/// What a formula begins with.
const BEGINS: [char; 6] = ['=', '+', '-', '@', '\t', '\r'];
/// Put before a text that begins so: a table shows the text then.
const MARK: char = '\'';

fn is_formula(text: &str) -> bool {
    text.trim_start_matches(MARK).starts_with(BEGINS)
}

/// A text as a cell that no table takes for a formula.
pub(crate) fn guarded(text: &str) -> String {
    if is_formula(text) { format!("{MARK}{text}") } else { text.to_owned() }
}

/// The text that was guarded so.
pub(crate) fn as_written(cell: &str) -> &str {
    cell.strip_prefix(MARK).filter(|text| is_formula(text)).unwrap_or(cell)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_text_begins_a_formula_and_each_comes_back_as_it_was() {
        for text in ["=1+1", "+49 30", "-", "@SUM(A1)", "'=1", "''=1", "'quoted'", "warm", "", "5 A = fine"] {
            let cell = guarded(text);
            assert!(!cell.starts_with(BEGINS), "{cell}");
            assert_eq!(as_written(&cell), text);
        }
        assert_eq!((guarded("warm").as_str(), guarded("'quoted'").as_str()), ("warm", "'quoted'"));
    }
}
