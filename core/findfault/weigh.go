package findfault

import (
	"context"
	"math"
	"slices"

	"zorvel/core/driveline/breaks"
	"zorvel/core/fault"
	"zorvel/core/say"
)

// search is the work of one question.
type search struct {
	m     *Model
	q     *Question
	hyps  []hypothesis
	seen  []observed  // each piece of evidence, prepared
	given []candidate // the tests that can be made, where they were said
}

// observed is one piece of evidence: a state, or a sign.
type observed struct {
	view  *view
	at    []int // what was watched, as the view lists it
	wrong float64
	sign  *SignOf
	said  string
}

// hypothesis is no fault, one, or two.
type hypothesis struct {
	of    []int // faults
	prior float64
	p     float64
	like  []float64 // of each piece of evidence
}

// nothing is how often nothing of these is wrong.
const nothing = 0.03

func (m *Model) search(q *Question) (*search, error) {
	var errs fault.Errors
	if len(q.Evidence) > MostEvidence {
		errs.Add("evidence", "at most %d things that were seen", MostEvidence)
		return nil, errs
	}
	if len(q.Priors) > MostPriors {
		errs.Add("priors", "at most %d sorts", MostPriors)
	}
	for id, w := range q.Priors {
		if _, ok := sorts[id]; !ok || !(w >= 0 && w <= 1e6) {
			errs.Add("priors/"+say.Clip(id, 40), "a sort of fault with how often it is met, from 0 to 1,000,000")
		}
	}
	s := &search{m: m, q: q}
	for i := range q.Evidence {
		s.read(i, &errs)
	}
	s.readGiven(&errs)
	if err := errs.Err(); err != nil {
		return nil, err
	}
	if q.Why != "" && !slices.ContainsFunc(m.faults, func(f Fault) bool { return f.ID == q.Why }) {
		return nil, fault.New("why", "this driveline has no such fault")
	}
	total := 0.0
	for i := range m.faults {
		total += m.weight(q, i)
	}
	if total == 0 {
		return nil, fault.New("priors", "at least one sort of fault of this unit above 0")
	}
	s.hyps = append(s.hyps, hypothesis{prior: nothing})
	for i := range m.faults {
		s.hyps = append(s.hyps, hypothesis{of: []int{i}, prior: (1 - nothing) * m.weight(q, i) / total})
	}
	return s, nil
}

func (m *Model) weight(q *Question, i int) float64 {
	if w, ok := q.Priors[m.faults[i].Sort]; ok {
		return w
	}
	return sorts[m.faults[i].Sort].prior
}

// of are the faults of a hypothesis.
func (s *search) of(h *hypothesis) []*Fault {
	out := make([]*Fault, len(h.of))
	for i, k := range h.of {
		out[i] = &s.m.faults[k]
	}
	return out
}

// likelihood of one piece of evidence under a hypothesis: each watched shaft by
// itself, right or, as often as people are wrong, any of the others; a sign by
// its table.
func (s *search) likelihood(i int, h *hypothesis) (float64, error) {
	e, o := &s.q.Evidence[i], &s.seen[i]
	if o.sign != nil {
		return o.sign.likelihood(e, o.sign.chance(s.of(h), e.Complaint)), nil
	}
	shows, err := s.m.shows(o.view, h.of)
	if err != nil {
		return 0, err
	}
	l := 1.0
	for k, x := range e.Seen {
		l *= saying(x, shows[o.at[k]], o.wrong)
	}
	return l, nil
}

// saying is the likelihood that this is said of a shaft that does that.
func saying(x Seen, shows string, wrong float64) float64 {
	switch {
	case x.Does == DontKnow:
		return 1
	case (shows == breaks.Slower || shows == breaks.Faster) && (x.Does == breaks.Follows || x.Does == shows):
		return (1 - wrong) / 2 // it turns; half of the people count how far
	case same(x, shows):
		return 1 - wrong
	case x.Does == breaks.Opposite && x.Watch == breaks.TheVehicle:
		return backwardError
	}
	return wrong / 3
}

// same takes a needle that stands for one that is locked.
func same(x Seen, shown string) bool {
	return x.Does == shown || x.Watch == breaks.Speedometer && x.Does == breaks.Locked && shown == breaks.Stays
}

// weigh runs Bayes' rule over singles, then over pairs of those that explain
// something.
func (s *search) weigh(ctx context.Context) error {
	if err := s.condition(ctx, 0); err != nil {
		return err
	}
	order := make([]int, 0, len(s.hyps))
	for i, h := range s.hyps {
		if len(h.of) == 1 {
			order = append(order, i)
		}
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmpDown(s.hyps[a].p, s.hyps[b].p) })
	order = s.pairing(order)
	first := len(s.hyps)
	for i, a := range order {
		for _, b := range order[i+1:] {
			// Two at once: as often as one after the other is not noticed.
			s.hyps = append(s.hyps, hypothesis{of: []int{s.hyps[a].of[0], s.hyps[b].of[0]}, prior: 0.3 * s.hyps[a].prior * s.hyps[b].prior})
		}
	}
	return s.condition(ctx, first)
}

// pairing picks who is weighed in pairs: the six likeliest, and for each piece
// of evidence the two that explain it best; none would be found beside a
// leader otherwise.
func (s *search) pairing(order []int) []int {
	out := slices.Clone(order[:min(6, len(order))])
	for i := range s.q.Evidence {
		if s.hyps[0].like[i] == 1 { // not seen: it tells nothing
			continue
		}
		best := slices.Clone(order)
		slices.SortStableFunc(best, func(a, b int) int {
			return cmpDown(s.hyps[a].prior*s.hyps[a].like[i], s.hyps[b].prior*s.hyps[b].like[i])
		})
		for _, h := range best[:min(2, len(best))] {
			if !slices.Contains(out, h) && len(out) < 14 && s.hyps[h].like[i] > 0.3 {
				out = append(out, h)
			}
		}
	}
	return out
}

func cmpDown(a, b float64) int {
	switch {
	case a > b:
		return -1
	case a < b:
		return 1
	}
	return 0
}

// condition takes the evidence in, a piece at a time, for the hypotheses from
// one on; those that have become a millionth of the best aren't solved any
// more.
func (s *search) condition(ctx context.Context, from int) error {
	for i := from; i < len(s.hyps); i++ {
		s.hyps[i].p, s.hyps[i].like = s.hyps[i].prior, make([]float64, len(s.q.Evidence))
	}
	for k := range s.q.Evidence {
		if err := ctx.Err(); err != nil {
			return err
		}
		best := 0.0
		for i := range s.hyps {
			best = math.Max(best, s.hyps[i].p)
		}
		for i := from; i < len(s.hyps); i++ {
			h := &s.hyps[i]
			if s.seen[k].sign == nil && h.p < 1e-6*best && h.p < 1e-6*h.prior {
				h.like[k] = s.seen[k].wrong / 3
			} else {
				l, err := s.likelihood(k, h)
				if err != nil {
					return err
				}
				h.like[k] = l
			}
			h.p *= h.like[k]
		}
	}
	sum := 0.0
	for _, h := range s.hyps {
		sum += h.p
	}
	if sum <= 0 || math.IsNaN(sum) {
		return fault.New("evidence", "nothing explains all of this; take one answer back")
	}
	if from == 0 {
		return nil // the pairs come first
	}
	for i := range s.hyps {
		s.hyps[i].p /= sum
	}
	return nil
}
