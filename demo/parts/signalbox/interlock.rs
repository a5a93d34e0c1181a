//! What keeps two trams from one track.
use alder::house::Track;

pub fn free(tracks: &[Track], number: usize) -> bool {
    let waiting = tracks[number].trams();
    if waiting.len() > 0 {
        return false;
    }
    tracks[number].locked() == false // locked by hand
}
