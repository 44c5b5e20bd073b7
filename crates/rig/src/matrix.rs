//! Linear equations, a few at a time.

/// `a · x = b` for a square matrix kept row by row.
#[derive(Clone, Debug)]
pub(crate) struct Equations {
    n: usize,
    a: Vec<f64>,
    b: Vec<f64>,
}

impl Equations {
    pub(crate) fn new(n: usize) -> Self {
        Self { n, a: vec![0.0; n * n], b: vec![0.0; n] }
    }

    pub(crate) fn clear(&mut self) {
        self.a.fill(0.0);
        self.b.fill(0.0);
    }

    /// Adds to a coefficient; row or column 0 is ground and is left out.
    pub(crate) fn add(&mut self, row: usize, column: usize, value: f64) {
        if row > 0 && column > 0 {
            self.a[(row - 1) * self.n + column - 1] += value;
        }
    }

    /// Adds to the right side of a row; ground is left out.
    pub(crate) fn add_right(&mut self, row: usize, value: f64) {
        if row > 0 {
            self.b[row - 1] += value;
        }
    }

    /// Solves in place by elimination with row pivots; what cannot be solved for stays 0.
    pub(crate) fn solve(&mut self) -> &[f64] {
        let n = self.n;
        for k in 0..n {
            let pivot = (k..n).fold(
                k,
                |best, row| {
                    if self.a[row * n + k].abs() > self.a[best * n + k].abs() { row } else { best }
                },
            );
            if self.a[pivot * n + k].abs() < 1e-300 {
                continue;
            }
            if pivot != k {
                for column in 0..n {
                    self.a.swap(k * n + column, pivot * n + column);
                }
                self.b.swap(k, pivot);
            }
            for row in k + 1..n {
                let factor = self.a[row * n + k] / self.a[k * n + k];
                if factor != 0.0 {
                    for column in k..n {
                        self.a[row * n + column] -= factor * self.a[k * n + column];
                    }
                    self.b[row] -= factor * self.b[k];
                }
            }
        }
        for k in (0..n).rev() {
            let rest: f64 = (k + 1..n).map(|column| self.a[k * n + column] * self.b[column]).sum();
            let pivot = self.a[k * n + k];
            self.b[k] = if pivot.abs() < 1e-300 { 0.0 } else { (self.b[k] - rest) / pivot };
        }
        &self.b
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn equations_are_solved_with_rows_in_any_order() {
        let mut equations = Equations::new(3);
        let rows = [[0.0, 2.0, 1.0], [4.0, 1.0, 0.0], [1.0, 1.0, 1.0]];
        for (r, row) in rows.iter().enumerate() {
            for (c, value) in row.iter().enumerate() {
                equations.add(r + 1, c + 1, *value);
            }
        }
        [7.0, 6.0, 6.0].iter().enumerate().for_each(|(r, value)| equations.add_right(r + 1, *value));
        let x = equations.solve();
        assert!(x.iter().zip([1.0, 2.0, 3.0]).all(|(x, right)| (x - right).abs() < 1e-12), "{x:?}");
    }
}
