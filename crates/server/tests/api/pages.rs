//! The web build that the binary carries.

use axum::body::Body;

use crate::Api;

fn nonce(html: &str) -> String {
    html.split("nonce=\"").nth(1).and_then(|rest| rest.split('"').next()).unwrap_or_default().to_owned()
}

#[tokio::test]
async fn the_page_has_a_policy_and_a_nonce_of_its_own_each_time() {
    let api = Api::start().await;
    let mut seen = Vec::new();
    for path in ["/", "/plan", "/shelf"] {
        let page = api.get(path).await;
        assert_eq!(page.status, 200);
        assert_eq!(page.headers["cache-control"], "no-store");
        assert!(!page.headers.contains_key("etag"));
        let html = String::from_utf8(page.bytes).unwrap();
        let nonce = nonce(&html);
        assert!(nonce.len() == 32 && !html.contains("__RUMEK_NONCE__"), "{html}");
        let policy = page.headers["content-security-policy"].to_str().unwrap();
        assert_eq!(
            policy,
            format!(
                "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-{nonce}'; font-src 'self'; connect-src 'self'; \
                 img-src 'self' blob:; worker-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
            )
        );
        seen.push(nonce);
    }
    seen.dedup();
    assert_eq!(seen.len(), 3);
}

#[tokio::test]
async fn scripts_are_immutable_and_compressed_and_a_missing_one_is_missing() {
    let api = Api::start().await;
    let html = String::from_utf8(api.get("/").await.bytes).unwrap();
    let script = html.split("src=\"").nth(1).and_then(|rest| rest.split('"').next()).unwrap();
    let plain = api.get(script).await;
    assert_eq!(plain.headers["cache-control"], "public, max-age=31536000, immutable");
    assert!(plain.headers["content-type"].to_str().unwrap().contains("javascript"));
    let small = api.send("GET", script, &[("accept-encoding", "gzip")], Body::empty()).await;
    assert_eq!(small.headers["content-encoding"], "gzip");
    assert!(small.bytes.len() * 2 < plain.bytes.len());
    let wide = api.send("GET", "/api/kinds", &[("accept-encoding", "gzip")], Body::empty()).await;
    assert!(!wide.headers.contains_key("content-encoding"), "the service is not compressed on loopback");
    assert_eq!(api.get("/assets/none.js").await.problem()["status"], 404);
}
