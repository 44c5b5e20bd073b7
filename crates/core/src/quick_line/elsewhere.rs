//! Words of other languages, each as the English word that is read in its place.
//!
//! Labels and habits come in German, French, Spanish, Italian, Dutch and Polish; answers stay in English. One row a
//! meaning; a word that means two things in two languages is left out.

/// English, and what it is called elsewhere; in lower case.
const WORDS: &[(&str, &[&str])] = &[
    // Things.
    (
        "battery",
        &[
            "akku",
            "akkus",
            "akkumulator",
            "batterie",
            "batterien",
            "batteries",
            "batteria",
            "batterie",
            "batería",
            "bateria",
            "baterías",
            "baterias",
            "accu",
            "accus",
            "accumulatore",
            "akumulator",
            "akumulatory",
            "baterii",
        ],
    ),
    ("pack", &["paket", "pakket", "paquete", "pacco", "pakiet"]),
    (
        "cells",
        &[
            "zelle",
            "zellen",
            "cellule",
            "cellules",
            "élément",
            "éléments",
            "celda",
            "celdas",
            "cella",
            "celle",
            "cel",
            "cellen",
            "ogniwo",
            "ogniwa",
            "ogniw",
        ],
    ),
    (
        "charger",
        &[
            "ladegerät",
            "ladegeraet",
            "lader",
            "ladegeräte",
            "chargeur",
            "cargador",
            "caricabatterie",
            "caricabatteria",
            "caricatore",
            "oplader",
            "acculader",
            "ładowarka",
            "ladowarka",
            "ładowarką",
            "ladowarką",
        ],
    ),
    (
        "supply",
        &[
            "netzteil",
            "netzgerät",
            "netzgeraet",
            "steckernetzteil",
            "alimentation",
            "alimentateur",
            "alimentación",
            "alimentacion",
            "fuente",
            "alimentatore",
            "voeding",
            "voedingsadapter",
            "zasilacz",
            "zasilacza",
        ],
    ),
    (
        "bench",
        &[
            "labornetzteil",
            "labornetzgerät",
            "labornetzgeraet",
            "labor",
            "laboratoire",
            "labo",
            "laboratorio",
            "labvoeding",
            "laboratoryjny",
            "banco",
            "banc",
        ],
    ),
    ("car", &["autobatterie", "starterbatterie", "autoaccu", "coche", "voiture", "samochodowy", "samochodowa"]),
    (
        "e-bike",
        &["fahrrad", "fahrradakku", "bicicleta", "bici", "vélo", "velo", "fiets", "rower", "roweru", "rowerowy"],
    ),
    ("gel", &["żelowy", "żelowa", "zelowy", "zelowa", "gelakku", "gel-akku", "gelbatterie"]),
    ("agm", &["agm-akku", "agm-batterie"]),
    ("liion", &["li-ion-akku", "liion-akku"]),
    ("lipo", &["lipo-akku"]),
    ("alarm", &["alarmanlage", "alarme", "alarma", "allarme"]),
    ("wall", &["steckdose", "prise", "enchufe", "presa", "stopcontact", "gniazdko"]),
    (
        "resistor",
        &["widerstand", "résistance", "resistance-série", "resistencia", "resistenza", "weerstand", "rezystor"],
    ),
    (
        "lamp",
        &[
            "lampe",
            "glühlampe",
            "gluehlampe",
            "ampoule",
            "lámpara",
            "lampara",
            "bombilla",
            "lampada",
            "lampadina",
            "gloeilamp",
            "żarówka",
            "zarowka",
        ],
    ),
    ("wire", &["kabel", "câble", "cavo", "przewód", "przewod", "leitung"]),
    ("load", &["verbraucher", "consommateur", "carico", "verbruiker", "obciążenie", "obciazenie"]),
    // Chemistries.
    (
        "lead",
        &[
            "blei",
            "bleiakku",
            "bleibatterie",
            "plomb",
            "plomo",
            "piombo",
            "lood",
            "loodaccu",
            "ołowiowy",
            "olowiowy",
            "blei-akku",
            "blei-säure",
            "kwasowo-ołowiowy",
        ],
    ),
    ("lithium", &["litio", "litowy", "litowo"]),
    (
        "liion",
        &[
            "lithium-ionen",
            "lithiumionen",
            "li-ionen",
            "litio-ion",
            "iones-de-litio",
            "litowo-jonowy",
            "litowo-jonowa",
            "ioni-di-litio",
        ],
    ),
    ("lipo", &["litio-polimero", "litowo-polimerowy"]),
    ("flooded", &["nassbatterie", "inundada"]),
    // How they are joined.
    ("series", &["reihe", "serie", "série", "reihenschaltung", "szeregowo", "seriell"]),
    ("parallel", &["parallèle", "paralelo", "parallelo", "równolegle", "rownolegle", "parallelschaltung"]),
    // How it stands.
    ("rest", &["ruhe", "ruhespannung", "repos", "reposo", "riposo", "rustspanning", "spoczynku", "leerlauf"]),
    (
        "reads",
        &[
            "gemessen",
            "misst",
            "zeigt",
            "mesure",
            "mesurée",
            "mide",
            "misura",
            "gemeten",
            "mierzy",
            "zmierzone",
            "liegt",
            "hat",
        ],
    ),
    (
        "empty",
        &[
            "leer",
            "vide",
            "vacía",
            "vacia",
            "vacío",
            "scarica",
            "leeg",
            "pusty",
            "pusta",
            "rozładowany",
            "rozladowany",
            "entladen",
            "tiefentladen",
        ],
    ),
    ("full", &["voll", "pleine", "plein", "llena", "lleno", "piena", "pieno", "pełny", "pelny", "pełna"]),
    ("half", &["halb", "halbvoll", "moitié", "medio", "metà", "połowy"]),
    ("storage", &["lagern", "lagerung", "lagerspannung", "stockage", "almacenamiento", "opslag", "przechowywania"]),
    ("charge", &["laden", "aufladen", "cargar", "caricare", "opladen", "ładować", "ladowac", "ladung"]),
    (
        "discharge",
        &["entladung", "entladestrom", "décharge", "decharge", "descarga", "scarico", "ontladen", "rozładowania"],
    ),
    ("max", &["höchstens", "hoechstens", "maximal", "maximaal", "massimo", "máximo", "maximo", "maksymalnie", "maks"]),
    ("gently", &["schonend", "langsam", "doucement", "lentement", "despacio", "lentamente", "langzaam", "powoli"]),
    ("hurry", &["eilig", "schnell", "vite", "rápido", "rapido", "snel", "szybko"]),
    ("degrees", &["grad", "degrés", "degres", "grados", "gradi", "graden", "stopni"]),
    // Words that turn a thing round.
    ("not", &["nicht", "pas", "niet", "nie", "non"]),
    ("no", &["kein", "keine", "keinen", "keiner", "geen", "aucun", "aucune", "ningún", "ningun", "nessun", "brak"]),
    ("without", &["ohne", "sans", "sin", "senza", "zonder", "bez"]),
    (
        "broken",
        &[
            "kaputt",
            "defekt",
            "cassé",
            "casse",
            "roto",
            "rota",
            "rotto",
            "rotta",
            "kapot",
            "zepsuty",
            "uszkodzony",
            "uszkodzona",
        ],
    ),
    ("minus", &["meno", "moins", "menos"]),
    // What ends it.
    (
        "swollen",
        &[
            "aufgebläht",
            "aufgeblaeht",
            "gebläht",
            "geblaeht",
            "aufgequollen",
            "dicke-backen",
            "gonflé",
            "gonflée",
            "gonfle",
            "gonflee",
            "hinchado",
            "hinchada",
            "gonfio",
            "gonfia",
            "gonfiata",
            "opgezwollen",
            "opgeblazen",
            "bol",
            "gezwollen",
            "spuchnięty",
            "spuchniety",
            "spuchnięta",
            "spuchnieta",
            "napuchnięty",
        ],
    ),
    (
        "leaking",
        &[
            "undicht",
            "ausgelaufen",
            "läuft-aus",
            "fuit",
            "fuite",
            "coule",
            "fuga",
            "pierde",
            "gotea",
            "perde",
            "lekt",
            "lekkend",
            "lekt",
            "cieknie",
            "wyciek",
            "wycieka",
        ],
    ),
    (
        "dented",
        &[
            "verbeult",
            "eingedrückt",
            "eingedrueckt",
            "cabossé",
            "cabossee",
            "abollado",
            "abollada",
            "ammaccato",
            "ammaccata",
            "gedeukt",
            "wgnieciony",
            "wgnieciona",
        ],
    ),
    ("smells", &["riecht", "stinkt", "huele", "puzza", "ruikt", "śmierdzi", "smierdzi"]),
    (
        "frozen",
        &[
            "gefroren",
            "eingefroren",
            "gelé",
            "gelée",
            "congelado",
            "congelada",
            "congelato",
            "congelata",
            "bevroren",
            "zamarznięty",
            "zamarznieta",
        ],
    ),
    ("freezing", &["frost", "frostig", "helando", "gelo", "vriest", "mróz", "mroz"]),
    // Small words.
    ("and", &["und", "et", "y", "e", "ed", "en"]),
    ("with", &["mit", "avec", "con", "met", "z", "ze"]),
    ("from", &["aus", "von", "vom", "depuis", "desde", "da", "od"]),
    ("at", &["bei", "à", "auf", "op", "przy", "chez"]),
    ("of", &["de", "du", "des", "di", "del", "della", "dell"]),
    ("the", &["der", "die", "das", "dem", "den", "le", "la", "les", "el", "los", "las", "il", "lo", "gli", "het"]),
    ("a", &["ein", "eine", "einem", "einer", "einen", "un", "une", "una", "uno", "een", "jeden", "jedna"]),
    ("my", &["mein", "meine", "mon", "mi", "mio", "mia", "mijn", "mój", "moja"]),
    ("is", &["ist", "est", "es", "è", "jest"]),
    ("for", &["für", "fuer", "pour", "para", "voor", "dla"]),
    (
        "old",
        &[
            "alt", "alte", "alter", "vieux", "vieille", "viejo", "vieja", "vecchio", "vecchia", "oud", "oude", "stary",
            "stara",
        ],
    ),
    ("how", &["wie", "comment", "cómo", "como", "hoe", "jak"]),
    ("two", &["zwei", "deux", "dos", "due", "twee", "dwa", "dwie"]),
    ("three", &["drei", "trois", "tres", "tre", "drie", "trzy"]),
    ("four", &["vier", "quatre", "cuatro", "quattro", "cztery"]),
    ("five", &["fünf", "fuenf", "cinq", "cinco", "cinque", "vijf", "pięć"]),
    ("six", &["sechs", "seis", "sei", "zes", "sześć"]),
    ("eight", &["acht", "huit", "ocho", "otto", "osiem"]),
    (
        "each",
        &[
            "jede", "jeder", "jedes", "jeweils", "je", "chaque", "chacun", "chacune", "cada", "ciascuna", "ciascuno",
            "ognuna", "elk", "każdy", "każda",
        ],
    ),
];

/// The English word that is read in place of one of another language; the word itself where it is none.
pub(super) fn english(word: &str) -> &str {
    WORDS.iter().find(|(_, others)| others.contains(&word)).map_or(word, |(english, _)| english)
}

/// Units that are spelled out elsewhere.
const UNITS: &[(&str, &[&str])] = &[
    ("h", &["stunden", "stunde", "std", "heures", "heure", "horas", "hora", "ore", "uur", "godzin", "godziny"]),
    ("min", &["minuten", "minutos", "minuti", "minut"]),
    ("ah", &["amperestunden", "ampère-heures"]),
    ("v", &["voltios", "voltow", "woltów"]),
    ("a", &["amperios", "amperów"]),
];

/// A unit's plain spelling where it is spelled out in another language.
pub(super) fn unit(word: &str) -> Option<&'static str> {
    UNITS.iter().find(|(_, others)| others.contains(&word)).map(|(plain, _)| *plain)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn no_word_has_two_meanings_and_none_hides_an_english_one() {
        let mut seen = std::collections::BTreeMap::new();
        for (english, others) in WORDS {
            for word in *others {
                if let Some(before) = seen.insert(*word, *english) {
                    assert_eq!(before, *english, "{word}");
                }
                assert!(
                    !word.is_ascii() || crate::physics::cell::named(word).is_none(),
                    "{word} is a chemistry as it stands"
                );
            }
        }
    }
}
