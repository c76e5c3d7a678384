//! Workbooks of three kinds, as people bring them and as nobody should.

use crate::shapes::{CARRY, SPEED, Wanted, held, today};
use std::io::{Cursor, Write};
use tally_core::physics::club::Club;
use tally_core::vocabulary::quantity::Quantity;
use tally_core::vocabulary::units::Unit;
use tally_formats::shot_table::{guess, look};

/// A workbook as people keep them: a title, a header further down, a second sheet, days as days.
fn workbook() -> Vec<u8> {
    use rust_xlsxwriter::{ExcelDateTime, Format, Formula, Workbook};
    let mut book = Workbook::new();
    book.add_worksheet()
        .set_name("Notes")
        .unwrap()
        .write(0, 0, "Nothing here")
        .unwrap();
    let sheet = book.add_worksheet().set_name("Shots").unwrap();
    let day = Format::new().set_num_format("dd/mm/yyyy");
    sheet.write(0, 0, "Session of Wren").unwrap();
    for (at, name) in ["Date", "Club", "Club Speed (mph)", "Carry (yd)", "Sum"]
        .into_iter()
        .enumerate()
    {
        sheet.write(3, at as u16, name).unwrap();
    }
    for (row, (speed, carry)) in (4..).zip([(82.4, 165.2), (81.0, 160.0), (83.0, 166.0)]) {
        let at = ExcelDateTime::from_ymd(2026, 4, 3).unwrap();
        sheet.write_with_format(row, 0, &at, &day).unwrap();
        sheet.write(row, 1, "7i").unwrap();
        sheet.write(row, 2, speed).unwrap();
        sheet.write(row, 3, carry).unwrap();
        sheet
            .write_formula(row, 4, Formula::new("=C5+D5").set_result("247.6"))
            .unwrap();
    }
    sheet.write(7, 0, "Average").unwrap();
    sheet.write(7, 2, 82.1).unwrap();
    book.save_to_buffer().unwrap()
}

#[test]
fn a_workbook_is_read_from_the_sheet_that_holds_shots() {
    let wanted = Wanted {
        asks: &[],
        rows: (3, 0),
        first: &[SPEED, CARRY],
    };
    let book = workbook();
    let shots = held("workbook", &book, &wanted);
    // A day that the sheet keeps as one can be read in but one way.
    assert_eq!(format!("{:?}", shots[0].when), "Day(2026-04-03)");
    assert_eq!(shots[0].club, Some(Club::Iron7));
    let layout = guess(&book, today()).unwrap();
    let looked = look(&book, &layout, today()).unwrap();
    assert_eq!((looked.sheets.len(), looked.layout.header_row), (2, 4));
    // That the other is not read is said.
    assert!(looked.remarks[0].contains(&format!("“{}” is not", looked.sheets[0])));
}

#[test]
fn a_sheet_that_is_named_for_a_club_holds_shots_with_it() {
    use rust_xlsxwriter::Workbook;
    let mut book = Workbook::new();
    for club in ["7 Iron", "Driver"] {
        let sheet = book.add_worksheet().set_name(club).unwrap();
        for (at, name) in ["Shot", "Carry (yd)"].into_iter().enumerate() {
            sheet.write(0, at as u16, name).unwrap();
        }
        for row in 1..4 {
            sheet.write(row, 0, row).unwrap();
            sheet.write(row, 1, 150.0 + f64::from(row)).unwrap();
        }
    }
    let book = book.save_to_buffer().unwrap();
    let wanted = Wanted {
        asks: &[],
        rows: (3, 0),
        first: &[(Quantity::Carry, Unit::Yd, 151.0)],
    };
    let shots = held("clubs", &book, &wanted);
    assert_eq!(shots[0].club, Some(Club::Iron7));
    let said = look(&book, &guess(&book, today()).unwrap(), today())
        .unwrap()
        .remarks;
    assert!(
        said.iter().any(|s| s.contains("hit with the 7-iron")),
        "{said:?}"
    );
}

#[test]
fn an_archive_of_other_files_is_refused_as_one() {
    let mut packed = zip::ZipWriter::new(Cursor::new(Vec::new()));
    let how = zip::write::SimpleFileOptions::default();
    packed.start_file("shots.csv", how).unwrap();
    packed.write_all(b"club,carry (yd)\n7i,140\n").unwrap();
    let packed = packed.finish().unwrap().into_inner();
    for bytes in [&packed[..], b"\x1f\x8b\x08\x00shots", b"7z\xbc\xaf\x27\x1c"] {
        let refused = guess(bytes, today()).unwrap_err();
        assert!(refused.problem.contains("archive"), "{refused}");
    }
}

#[test]
fn a_workbook_that_is_broken_is_refused() {
    let book = workbook();
    for cut in [4, 100, book.len() / 2, book.len() - 30] {
        let refused = guess(&book[..cut], today()).unwrap_err();
        assert!(refused.problem.contains("workbook"), "{refused}");
    }
}

#[test]
fn a_cell_that_strayed_to_the_end_of_a_sheet_is_no_reason_to_hold_all_between() {
    let mut book = rust_xlsxwriter::Workbook::new();
    let sheet = book.add_worksheet();
    let rows = ["Club", "7i", "7i", "7i"];
    for (row, (club, speed)) in (0..).zip(rows.into_iter().zip([0.0, 82.4, 81.0, 83.0])) {
        sheet.write(row, 0, club).unwrap();
        match row {
            0 => sheet.write(row, 1, "Club Speed (mph)").unwrap(),
            _ => sheet.write(row, 1, speed).unwrap(),
        };
    }
    sheet.write(1_048_575, 1, "checked").unwrap();
    let wanted = Wanted {
        asks: &["club:"],
        rows: (3, 1),
        first: &[SPEED],
    };
    held("a word below", &book.save_to_buffer().unwrap(), &wanted);
    book.worksheet_from_index(0)
        .unwrap()
        .write(1_048_575, 16_383, "x")
        .unwrap();
    // A note far to the right, which is no stray, keeps its column.
    let sheet = book.worksheet_from_index(0).unwrap();
    sheet.write(2, 40, "windy").unwrap();
    let wide = book.save_to_buffer().unwrap();
    let layout = guess(&wide, today()).unwrap();
    assert_eq!(layout.columns.len(), 41);
}

/// An older workbook of these records, each of a kind and what it holds.
fn older(records: &[(u16, Vec<u8>)]) -> Vec<u8> {
    let mut file =
        cfb::CompoundFile::create_with_version(cfb::Version::V3, Cursor::new(Vec::new())).unwrap();
    let mut stream = file.create_stream("/Workbook").unwrap();
    for (kind, held) in records {
        stream.write_all(&kind.to_le_bytes()).unwrap();
        stream
            .write_all(&(held.len() as u16).to_le_bytes())
            .unwrap();
        stream.write_all(held).unwrap();
    }
    // What is smaller is kept in another way, which is not ours to test.
    stream.write_all(&[0; 5000]).unwrap();
    drop(stream);
    file.into_inner().into_inner()
}

/// Its cells: words, and numbers.
fn cell(row: u16, column: u16, told: Result<f64, &str>) -> (u16, Vec<u8>) {
    let mut held = [row, column, 0].map(u16::to_le_bytes).concat();
    match told {
        Ok(number) => {
            held.extend(number.to_le_bytes());
            (0x0203, held)
        }
        Err(word) => {
            held.extend((word.len() as u16).to_le_bytes());
            held.push(0);
            held.extend(word.bytes());
            (0x0204, held)
        }
    }
}

/// Such a workbook with one sheet of these cells.
fn older_sheet(cells: Vec<(u16, Vec<u8>)>) -> Vec<u8> {
    let begins = |what: u16| {
        (
            0x0809,
            [0x0600, what, 0, 0, 0, 0, 0, 0]
                .map(u16::to_le_bytes)
                .concat(),
        )
    };
    let ends = (0x000A, Vec::new());
    // The sheet stands behind the head: a record of 20 bytes, one of 18, and one of 4.
    let mut sheet = 42u32.to_le_bytes().to_vec();
    sheet.extend([0, 0, 6, 0]);
    sheet.extend(*b"Shots1");
    let mut records = vec![begins(5), (0x0085, sheet), ends.clone(), begins(16)];
    records.extend(cells);
    records.push(ends);
    older(&records)
}

/// Three swings with a 7-iron.
fn older_cells() -> Vec<(u16, Vec<u8>)> {
    let mut cells = vec![cell(0, 0, Err("Club")), cell(0, 1, Err("Club Speed (mph)"))];
    for (row, speed) in (1..).zip([82.4, 81.0, 83.0]) {
        cells.extend([cell(row, 0, Err("7i")), cell(row, 1, Ok(speed))]);
    }
    cells
}

#[test]
fn an_older_workbook_goes_in_and_one_that_claims_the_whole_sheet_is_refused() {
    let cells = older_cells();
    let wanted = Wanted {
        asks: &[],
        rows: (3, 0),
        first: &[SPEED],
    };
    held("an older workbook", &older_sheet(cells.clone()), &wanted);
    let claims = |rows: u32| {
        let mut held = [0u32, rows].map(u32::to_le_bytes).concat();
        held.extend([0u16, 256, 0].map(u16::to_le_bytes).concat());
        (0x0200, held)
    };
    for more in [cell(65_535, 255, Ok(1.0)), claims(u32::MAX)] {
        let mut cells = cells.clone();
        cells.insert(0, more);
        let refused = guess(&older_sheet(cells), today()).unwrap_err();
        assert!(
            refused.problem.contains("more cells than are read"),
            "{refused}"
        );
    }
}

/// An OpenDocument workbook with one table of these rows.
fn open_document(rows: &str) -> Vec<u8> {
    let mut packed = zip::ZipWriter::new(Cursor::new(Vec::new()));
    let how = zip::write::SimpleFileOptions::default();
    let names = ["office", "table", "text"]
        .map(|name| format!("xmlns:{name}=\"urn:oasis:names:tc:opendocument:xmlns:{name}:1.0\""));
    let content = format!(
        "<?xml version=\"1.0\"?><office:document-content {}><office:body><office:spreadsheet><table:table table:name=\"Shots\">{rows}</table:table></office:spreadsheet></office:body></office:document-content>",
        names.join(" ")
    );
    for (name, held) in [
        ("mimetype", "application/vnd.oasis.opendocument.spreadsheet"),
        ("META-INF/manifest.xml", "<manifest:manifest/>"),
        ("content.xml", &content),
    ] {
        packed.start_file(name, how).unwrap();
        packed.write_all(held.as_bytes()).unwrap();
    }
    packed.finish().unwrap().into_inner()
}

/// One row of a table.
fn open_row(cells: &str, speed: &str) -> String {
    format!("<table:table-row>{cells}{speed}</table:table-row>")
}

/// Three swings with a 7-iron, and nothing to the right and to the end, as they are written.
fn open_rows() -> String {
    let word = |word: &str| {
        format!(
            "<table:table-cell office:value-type=\"string\"><text:p>{word}</text:p></table:table-cell>"
        )
    };
    let mut rows = open_row(&word("Club"), &word("Club Speed (mph)"));
    for speed in ["82.4", "81", "83"] {
        let number = format!(
            "<table:table-cell office:value-type=\"float\" office:value=\"{speed}\"><text:p>{speed}</text:p></table:table-cell>"
        );
        rows += &open_row(&word("7i"), &number);
    }
    let nothing = "<table:table-cell table:number-columns-repeated=\"16384\"/>";
    rows + &format!(
        "<table:table-row table:number-rows-repeated=\"1048572\">{nothing}</table:table-row>"
    )
}

/// A good workbook of each kind.
pub(crate) fn of_each_kind() -> [Vec<u8>; 3] {
    [
        workbook(),
        open_document(&open_rows()),
        older_sheet(older_cells()),
    ]
}

#[test]
fn an_open_document_goes_in_and_one_that_repeats_without_end_is_refused() {
    let rows = open_rows();
    let wanted = Wanted {
        asks: &[],
        rows: (3, 0),
        first: &[SPEED],
    };
    held("an open document", &open_document(&rows), &wanted);
    let wide = "<table:table-cell office:value-type=\"float\" office:value=\"1\" table:number-columns-repeated=\"16384\"/>";
    let tall =
        format!("<table:table-row table:number-rows-repeated=\"1000000\">{wide}</table:table-row>");
    for more in [tall, open_row(wide, "").repeat(600)] {
        let refused = guess(&open_document(&format!("{rows}{more}")), today()).unwrap_err();
        assert!(
            refused.problem.contains("more cells than are read"),
            "{refused}"
        );
    }
}
