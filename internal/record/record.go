// Package record is what the rooms share of keeping an answer with its question.
package record

import (
	"context"
	"encoding/json"
	"net/http"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// Kind says what a bench does with its kind of record.
type Kind struct {
	// answer works the question out once more; nil where a record of this kind
	// comes about otherwise.
	Answer func(context.Context, *api.NewDecision, *store.Decision) error
	// print makes its sheet; nil where it has none.
	Print func(store.Decision, store.Unit, catalog.Letterhead) ([]byte, error)
}

var ErrNoFigures = problem.New(http.StatusNotFound, "No sheet", "This decision came in a document without the figures of a sheet.")

// Keep works a question of a bench out once more and keeps both.
func Keep[Q, A any](d *store.Decision, field string, q *Q, work func(Q) (*A, error), title func(*A) string) error {
	if q == nil {
		return problem.Field("/"+field, "the question is needed")
	}
	a, err := work(*q)
	if err != nil {
		return fault.Under(field, err)
	}
	d.Title = say.Clip(title(a), 199)
	if d.Question, err = json.Marshal(q); err != nil {
		return err
	}
	d.Answer, err = json.Marshal(a)
	return err
}
