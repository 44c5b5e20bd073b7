use rumek_core::document::{PlanDoc, from_value};
fn main() {
    let s = std::io::read_to_string(std::io::stdin()).unwrap();
    let v: serde_json::Value = serde_json::from_str(&s).unwrap();
    let mut v = v;
    v["format"] = "rumek.plan/1".into();
    let d: PlanDoc = from_value(&v).unwrap();
    match rumek_core::answer(&d) {
        Ok(r) => {
            println!(
                "settings {:?}\ntime {:?}\nend {:?}\ndeliv {:?}\nlimits {:?}",
                r.settings.as_ref().map(|s| (s.voltage_v, s.current_a, s.stop_current_a, s.stop_charge_ah)),
                r.time,
                r.end,
                r.delivered,
                r.limits.iter().map(|l| format!("{} {:.2}", l.limit.code(), l.current_a)).collect::<Vec<_>>()
            );
            for c in &r.checks {
                println!("{:?} {} {}", c.severity, c.code.code(), c.message);
            }
            for c in &r.steps {
                println!("  {:?} {} {}", c.when, c.code, c.message);
            }
            if std::env::var("CURVE").is_ok() {
                for p in &r.curve {
                    println!("{:.0} {:.3} {:.3} {:.4}", p.t_s, p.pack_v, p.current_a, p.soc);
                }
            }
        }
        Err(e) => println!("{e}"),
    }
}
