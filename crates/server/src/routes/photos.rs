//! How a pack looked: a picture is decoded, turned upright, made smaller and written anew as JPEG, so that nothing of the
//! file that came is kept, least of all where it was taken.

use std::io::Cursor;

use axum::body::Bytes;
use axum::extract::rejection::BytesRejection;
use axum::extract::{DefaultBodyLimit, Path, State};
use axum::http::{StatusCode, header};
use axum::routing::{get, post};
use axum::{Json, Router};
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use image::codecs::jpeg::JpegEncoder;
use image::{DynamicImage, ImageDecoder, ImageReader, Limits};
use rumek_core::formats::{RECORD_FORMAT, RecordDoc, RecordKind, from_value};
use rumek_store::{Draft, Links, Origin, Packs, Records};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::app::App;
use crate::openapi::{Description, of_path};
use crate::problem::Problem;
use crate::routes::resources::{as_json, parse_id};
use crate::wire::{StoredDoc, shown};

/// The largest file, bytes: what a camera writes.
const FILE_LIMIT: usize = 20 << 20;
/// The most points of a picture a side, and the memory one may take while it is read, bytes.
const POINTS_A_SIDE: u32 = 12_000;
const MEMORY: u64 = 512 << 20;
/// It is kept with so many points a side …
const KEPT_A_SIDE: u32 = 1280;
/// … as JPEG of this quality, of 100; what is still too large is written once more at the next.
const QUALITIES: [u8; 3] = [80, 60, 40];
/// What is kept of one, bytes.
const KEPT: usize = 350_000;

/// The requests of this file.
pub(crate) fn routes() -> Router<App> {
    Router::new()
        .route("/packs/{id}/photo", post(put_in).layer(DefaultBodyLimit::max(FILE_LIMIT)))
        .route("/records/{id}/photo", get(shows))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let binary = json!({ "type": "string", "format": "binary" });
    let kept = api.schema::<StoredDoc<RecordDoc>>();
    let taken = json!({
        "summary": "Keep a picture of a pack",
        "parameters": [of_path("id")],
        "requestBody": { "required": true, "content": {
            "image/jpeg": { "schema": binary }, "image/png": { "schema": binary }, "image/webp": { "schema": binary } } },
        "responses": { "201": { "description": "Kept", "content": { "application/json": { "schema": kept } } } }
    });
    api.add_special("/api/packs/{id}/photo", "post", taken, &[400, 404, 413, 415, 422, 503]);
    let shown = json!({
        "summary": "The picture of a record",
        "parameters": [of_path("id")],
        "responses": { "200": { "description": "It", "content": { "image/jpeg": { "schema": binary } } } }
    });
    api.add_special("/api/records/{id}/photo", "get", shown, &[404, 503]);
}

/// A picture read, upright and small enough, as JPEG.
fn small_jpeg(file: &[u8]) -> Result<Vec<u8>, image::ImageError> {
    let mut reader = ImageReader::new(Cursor::new(file)).with_guessed_format()?;
    let mut limits = Limits::default();
    (limits.max_image_width, limits.max_image_height) = (Some(POINTS_A_SIDE), Some(POINTS_A_SIDE));
    limits.max_alloc = Some(MEMORY);
    reader.limits(limits);
    let mut decoder = reader.into_decoder()?;
    // A telephone writes how it was held beside the picture.
    let held = decoder.orientation()?;
    let mut picture = DynamicImage::from_decoder(decoder)?;
    picture.apply_orientation(held);
    if picture.width().max(picture.height()) > KEPT_A_SIDE {
        picture = picture.thumbnail(KEPT_A_SIDE, KEPT_A_SIDE);
    }
    let picture = picture.to_rgb8();
    let mut jpeg = Vec::new();
    for quality in QUALITIES {
        jpeg.clear();
        picture.write_with_encoder(JpegEncoder::new_with_quality(&mut jpeg, quality))?;
        if jpeg.len() <= KEPT {
            break;
        }
    }
    Ok(jpeg)
}

/// Keeps a picture as something known of its pack.
async fn put_in(
    State(app): State<App>,
    Path(id): Path<String>,
    file: Result<Bytes, BytesRejection>,
) -> Result<(StatusCode, Json<StoredDoc<Value>>), Problem> {
    let file = file.map_err(|_| Problem::too_large(format!("A picture may have at most {} MB.", FILE_LIMIT >> 20)))?;
    let pack = app.database.shelf::<Packs>().get(parse_id(&id)?).await?;
    let read = tokio::task::spawn_blocking(move || small_jpeg(&file)).await.map_err(|error| Problem::failed(&error))?;
    let jpeg = read.map_err(|error| {
        Problem::unsupported(format!(
            "The picture cannot be read: {error}. JPEG, PNG or WebP of at most {POINTS_A_SIDE} points a side is."
        ))
    })?;
    if jpeg.len() > KEPT {
        return Err(Problem::too_large("The picture is too large even when it is made smaller: take a plainer one."));
    }
    let record = RecordDoc {
        format: Some(RECORD_FORMAT.to_owned()),
        kind: Some(RecordKind::Photo),
        at: Some(shown(OffsetDateTime::now_utc())),
        photo_jpeg: Some(STANDARD.encode(&jpeg)),
        ..RecordDoc::default()
    };
    let links = Links { pack: Some(Origin { id: pack.id, version: pack.version }), ..Links::default() };
    let draft = Draft { document: as_json(&record)?, links };
    let row = app.database.shelf::<Records>().create(Uuid::now_v7(), draft).await?;
    Ok((StatusCode::CREATED, Json(row.into())))
}

/// The picture of a record.
async fn shows(
    State(app): State<App>,
    Path(id): Path<String>,
) -> Result<([(header::HeaderName, String); 2], Vec<u8>), Problem> {
    let none = || Problem::not_found("There is no picture at this address.");
    let row = app.database.shelf::<Records>().get(parse_id(&id)?).await?;
    let record: RecordDoc = from_value(&row.document)?;
    let jpeg = record.photo_jpeg.and_then(|text| STANDARD.decode(text).ok()).ok_or_else(none)?;
    // A record never changes its picture.
    let kept = "private, max-age=31536000, immutable".to_owned();
    Ok(([(header::CONTENT_TYPE, "image/jpeg".to_owned()), (header::CACHE_CONTROL, kept)], jpeg))
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;
    use image::{ImageFormat, RgbImage};

    fn file(width: u32, height: u32, format: ImageFormat) -> Vec<u8> {
        let mut dice = 7u32;
        let picture = RgbImage::from_fn(width, height, |x, y| {
            dice = dice.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            image::Rgb([(x % 256) as u8, (y % 256) as u8, (dice >> 24) as u8])
        });
        let mut bytes = Cursor::new(Vec::new());
        picture.write_to(&mut bytes, format).unwrap();
        bytes.into_inner()
    }

    #[test]
    fn a_large_picture_is_made_small_and_a_small_one_is_left_so() {
        let read = |bytes: &[u8]| image::load_from_memory(bytes).unwrap();
        let large = small_jpeg(&file(3000, 2000, ImageFormat::Png)).unwrap();
        assert_eq!((read(&large).width(), read(&large).height()), (1280, 853));
        assert!(large.len() <= KEPT, "noise is written at a lower quality: {}", large.len());
        let small = small_jpeg(&file(300, 200, ImageFormat::Jpeg)).unwrap();
        assert_eq!((read(&small).width(), read(&small).height()), (300, 200));
    }

    #[test]
    fn what_is_no_picture_or_claims_to_be_a_huge_one_is_refused() {
        assert!(small_jpeg(b"<svg onload='alert(1)'/>").is_err());
        let mut claims = file(30, 20, ImageFormat::Png);
        // The width of a PNG stands sixteen bytes in.
        claims[16..20].copy_from_slice(&60_000u32.to_be_bytes());
        assert!(small_jpeg(&claims).is_err());
    }
}
