// Package findfault says which part is broken: every part of a driveline is
// broken in the model, what would then be seen is solved, and what was seen is
// weighed against it by Bayes' rule. What wears and leaks shows in signs, by a
// table. The next test is the one that tells most per minute.
package findfault

import (
	"context"
	"sync"

	"zorvel/core/fault"
	"zorvel/core/shift"
)

// mechanismSigns are what faults of a boat's shift mechanism show.
var mechanismSigns = sync.OnceValue(shift.Chances)

// Find weighs the evidence. Faults are fault.Errors with paths within the
// question. It stops with the context's error where nobody waits any more.
func Find(ctx context.Context, q Question) (*Answer, error) {
	m, err := NewModel(q.Driveline)
	if err != nil {
		return nil, err
	}
	return m.Find(ctx, q)
}

// Find weighs the evidence of a question about the model's driveline; that of
// the question isn't read.
func (m *Model) Find(ctx context.Context, q Question) (*Answer, error) {
	if err := fault.Figures(q); err != nil {
		return nil, err
	}
	s, err := m.search(&q)
	if err != nil {
		return nil, err
	}
	if err := s.weigh(ctx); err != nil {
		return nil, err
	}
	a := s.answer()
	if err := s.next(ctx, a); err != nil {
		return nil, err
	}
	return a, s.conclude(a)
}
