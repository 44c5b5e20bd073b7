//! Rows as PostgreSQL's `COPY … FROM STDIN (FORMAT binary)` takes them: a head, then for each row
//! the number of its fields and each with its length, then an end.

use time::OffsetDateTime;
use uuid::Uuid;

/// Seconds from 1970 to 2000, where PostgreSQL counts from.
const EPOCH_S: i64 = 946_684_800;

/// What is copied goes on for as long as its rows come.
pub(crate) const AS_LONG_AS_IT_COMES: &str = "SET LOCAL statement_timeout = 0";

/// What the rows of [`CopyRows::reading`] are sent to.
pub(crate) const COPY_READINGS: &str = "COPY run_readings \
    (run_id, n, client_id, taken_at, received_at, clock_offset_ms, struck_at, document) FROM STDIN (FORMAT binary)";

/// Bytes to be sent.
#[derive(Debug, Default)]
pub(crate) struct CopyRows {
    bytes: Vec<u8>,
    begun: bool,
}

impl CopyRows {
    /// A row of so many fields begins.
    pub(crate) fn row(&mut self, fields: i16) -> &mut Self {
        if !self.begun {
            self.bytes.extend_from_slice(b"PGCOPY\n\xff\r\n\0\0\0\0\0\0\0\0\0");
            self.begun = true;
        }
        self.bytes.extend_from_slice(&fields.to_be_bytes());
        self
    }

    fn field(&mut self, bytes: &[u8]) -> &mut Self {
        self.bytes.extend_from_slice(&(bytes.len() as i32).to_be_bytes());
        self.bytes.extend_from_slice(bytes);
        self
    }

    pub(crate) fn uuid(&mut self, id: Uuid) -> &mut Self {
        self.field(id.as_bytes())
    }

    fn uuid_or_null(&mut self, id: Option<Uuid>) -> &mut Self {
        match id {
            Some(id) => self.uuid(id),
            None => self.null(),
        }
    }

    fn null(&mut self) -> &mut Self {
        self.bytes.extend_from_slice(&(-1i32).to_be_bytes());
        self
    }

    pub(crate) fn smallint(&mut self, value: i16) -> &mut Self {
        self.field(&value.to_be_bytes())
    }

    pub(crate) fn integer(&mut self, value: i32) -> &mut Self {
        self.field(&value.to_be_bytes())
    }

    fn bigint(&mut self, value: i64) -> &mut Self {
        self.field(&value.to_be_bytes())
    }

    fn moment(&mut self, at: OffsetDateTime) -> &mut Self {
        let micros = at.unix_timestamp_nanos().div_euclid(1000) - i128::from(EPOCH_S) * 1_000_000;
        self.bigint(i64::try_from(micros).unwrap_or(i64::MAX))
    }

    fn json(&mut self, text: &str) -> &mut Self {
        self.bytes.extend_from_slice(&(text.len() as i32 + 1).to_be_bytes());
        // The version of the way JSON is sent.
        self.bytes.push(1);
        self.bytes.extend_from_slice(text.as_bytes());
        self
    }

    /// A reading; `times` are when it was taken, when it arrived and when it was taken back, `document` is JSON.
    pub(crate) fn reading(
        &mut self,
        run_id: Uuid,
        n: i32,
        client_id: Option<Uuid>,
        times: (OffsetDateTime, OffsetDateTime, Option<OffsetDateTime>),
        clock_offset_ms: i64,
        document: &str,
    ) {
        let (taken_at, received_at, struck_at) = times;
        self.row(8).uuid(run_id).integer(n).uuid_or_null(client_id);
        self.moment(taken_at).moment(received_at).bigint(clock_offset_ms);
        match struck_at {
            Some(at) => self.moment(at),
            None => self.null(),
        };
        self.json(document);
    }

    /// What was collected so far; the next begins empty.
    pub(crate) fn take(&mut self) -> Vec<u8> {
        std::mem::take(&mut self.bytes)
    }

    /// The rest, and the end.
    pub(crate) fn end(mut self) -> Vec<u8> {
        if !self.begun {
            self.row(0);
            self.bytes.truncate(self.bytes.len() - 2);
        }
        self.bytes.extend_from_slice(&(-1i16).to_be_bytes());
        self.bytes
    }
}
