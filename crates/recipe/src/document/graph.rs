//! Things that take in one another by name: strands and named masks.

/// What is wrong with how things take in one another.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(crate) enum Knot {
    /// Each takes in the next, and the last one the first.
    Ring(Vec<usize>),
    /// Each takes in the next, and there are too many of them.
    Deep(Vec<usize>),
}

/// An order of `count` things in which each comes after all that it takes in,
/// which `takes_in` says. Every thing and every link is looked at once.
///
/// # Errors
/// [`Knot`] when there is no such order, or more than `deepest` things take in
/// one another in a row.
pub(crate) fn ordered(
    count: usize,
    deepest: usize,
    takes_in: impl Fn(usize) -> Vec<usize>,
) -> Result<Vec<usize>, Knot> {
    let mut order = Vec::with_capacity(count);
    // How many stand on one another up to each, once that is known.
    let mut height = vec![0_usize; count];
    for start in 0..count {
        if height[start] > 0 {
            continue;
        }
        // What was begun, each with what of it is still to be looked at.
        let mut path = vec![(start, takes_in(start))];
        while let Some((at, rest)) = path.last_mut() {
            let at = *at;
            match rest.pop() {
                Some(next) if height[next] > 0 => {}
                Some(next) => {
                    let names = || path.iter().map(|(at, _)| *at);
                    if let Some(first) = names().position(|seen| seen == next) {
                        return Err(Knot::Ring(names().skip(first).chain([next]).collect()));
                    }
                    if path.len() > deepest {
                        return Err(Knot::Deep(names().collect()));
                    }
                    path.push((next, takes_in(next)));
                }
                None => {
                    let below = takes_in(at).into_iter().map(|next| height[next]);
                    height[at] = 1 + below.max().unwrap_or(0);
                    if height[at] > deepest {
                        return Err(Knot::Deep(path.iter().map(|(at, _)| *at).collect()));
                    }
                    order.push(at);
                    path.pop();
                }
            }
        }
    }
    Ok(order)
}

#[cfg(test)]
mod tests {
    use super::{Knot, ordered};

    fn links(of: &[&[usize]]) -> impl Fn(usize) -> Vec<usize> {
        move |at| of[at].to_vec()
    }

    #[test]
    fn each_comes_after_what_it_takes_in() {
        let of: &[&[usize]] = &[&[2, 1], &[2], &[3, 3], &[]];
        let order = ordered(4, 9, links(of)).expect("no knot");
        for (at, taken) in of.iter().enumerate() {
            let place = |of: usize| order.iter().position(|seen| *seen == of);
            assert!(taken.iter().all(|of| place(*of) < place(at)), "{order:?}");
        }
        assert_eq!(order.len(), 4);
    }

    #[test]
    fn a_ring_is_named_from_where_it_begins() {
        let ring = ordered(3, 9, links(&[&[1], &[2], &[1]]));
        assert_eq!(ring, Err(Knot::Ring(vec![1, 2, 1])));
    }

    #[test]
    fn depth_is_bounded_whichever_end_is_looked_at_first() {
        let down = |at: usize| if at < 19 { vec![at + 1] } else { vec![] };
        let up = |at: usize| if at > 0 { vec![at - 1] } else { vec![] };
        for links in [&down as &dyn Fn(usize) -> Vec<usize>, &up] {
            assert!(ordered(20, 20, links).is_ok());
            assert!(matches!(ordered(20, 19, links), Err(Knot::Deep(_))));
        }
    }

    /// Two to the thirtieth ways lead through it.
    #[test]
    fn many_ways_through_are_looked_at_once() {
        let twice = |at: usize| if at < 29 { vec![at + 1; 2] } else { vec![] };
        assert_eq!(ordered(30, 30, twice).expect("no knot").len(), 30);
    }
}
