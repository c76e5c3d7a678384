//! A coach brings in a file that leaves much open: asked, answered, mistaken, brought in for
//! two players, and sent again.

use std::path::PathBuf;
use tally_e2e::play;

/// A report with a title, units below the names, two players, and a row of averages.
const REPORT: &str = "Session report\n\n\
    Player,Date,Club,Club Speed,Ball Speed,Carry,Face to Path,Spin\n\
    ,,,mph,mph,,deg,rpm\n\
    Ilse Marrow,03/04/2026,7i,74.1,98.0,140.1,0.2,\"6,100*\"\n\
    Ada Quill,04/04/2026,Old faithful,92.4,131.1,221.2,1.2,\"2,900\"\n\
    Ada Quill,05/04/2026,driver,92.9,131.1,224.2,1.2,\"2,910\"\n\
    Average,,,86,120,195,1,4000\n";

/// A file that goes when the journey is over.
struct OnDisk(PathBuf);

impl OnDisk {
    fn new(name: &str, text: &str) -> OnDisk {
        let path = std::env::temp_dir().join(format!("{}-{name}", std::process::id()));
        std::fs::write(&path, text).expect("a file");
        OnDisk(path)
    }
}

impl Drop for OnDisk {
    fn drop(&mut self) {
        std::fs::remove_file(&self.0).ok();
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn what_a_file_leaves_open_is_answered_and_nothing_goes_in_twice() {
    let file = OnDisk::new("report.csv", REPORT);
    let path = file.0.to_string_lossy().into_owned();
    play(true, async |stage| {
        stage.go("/school/files").await?;
        let open = "//input[@type='file'][@multiple]";
        stage.find(open).await?.send_keys(&path).await?;
        stage.says("names no unit. Which is it?").await?;
        stage.says("Not used: “Face to Path”").await?;
        stage.says("3 questions are open above").await?;
        // A wrong answer is seen and can be changed.
        stage.press("4 March 2026").await?;
        stage.find("//td[.='4 March 2026']").await?;
        stage.press("3 April 2026").await?;
        stage.find("//td[.='3 April 2026']").await?;
        stage
            .click_once_still("//fieldset[contains(., 'names no unit')]//button[.='yd']")
            .await?;
        stage
            .choose("Which club is “Old faithful”?", "Driver")
            .await?;
        stage.find("//main[not(contains(., 'open above'))]").await?;
        stage.press("Bring in").await?;
        stage.says("Say whose the rows of “Ada Quill” are").await?;
        stage
            .choose("Who Ada Quill is", "a new player, Ada Quill")
            .await?;
        stage.press("Bring in").await?;
        stage.says("Ada Quill: 2 shots are in.").await?;
        stage.says("Ilse Marrow: 1 shot is in.").await?;
        // The list says what became of each column.
        stage
            .click_once_still("//summary[.='What its columns became']")
            .await?;
        stage.says("club speed, mph").await?;
        // The same file again is read as it was, and brings in nothing.
        stage.press("Another file").await?;
        stage.find(open).await?.send_keys(&path).await?;
        stage.says("and is read as that was").await?;
        stage.press("Bring in").await?;
        stage
            .says("All 2 shots that can be read are in already")
            .await?;
        Ok(())
    })
    .await;
}
