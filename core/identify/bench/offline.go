package bench

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"zorvel/core/fault"
	"zorvel/core/identify"
)

// spacesKept bounds the spaces that a Bench remembers; the largest takes some ten
// megabytes.
const spacesKept = 4

// Bench answers the identify bench's requests by path, as the server's interface
// does but for the shop's own gears, which it doesn't have. It is for one caller at
// a time; the zero value is ready.
type Bench struct {
	spaces []kept // the one asked for last first
}

type kept struct {
	stage identify.Stage
	space *identify.Space
}

// Answer answers a request with the status and the JSON that the server would send.
// Its paths are identify, live, echo and knowledge.
func (b *Bench) Answer(path string, body []byte) (status int, answer []byte) {
	out, err := b.ask(path, body)
	if err == nil {
		if answer, err = json.Marshal(out); err == nil {
			return 200, answer
		}
	}
	return refused(err)
}

var errPath = errors.New("there is nothing at this address")

func (b *Bench) ask(path string, body []byte) (any, error) {
	switch path {
	case "knowledge":
		return Know()
	case "echo":
		var w Words
		if err := json.Unmarshal(body, &w); err != nil {
			return nil, err
		}
		return Understand(w)
	case "identify":
		var q Question
		if err := json.Unmarshal(body, &q); err != nil {
			return nil, err
		}
		sp, err := b.space(q.Stage)
		if err != nil {
			return nil, err
		}
		return Answer(context.Background(), sp, q)
	case "live":
		return b.live(body)
	}
	return nil, errPath
}

func (b *Bench) live(body []byte) (any, error) {
	var q LiveQuestion
	if err := json.Unmarshal(body, &q); err != nil {
		return nil, err
	}
	var sp *identify.Space
	if q.With != nil {
		var err error
		if sp, err = b.space(q.With.Stage); err != nil {
			return nil, fault.Under("with", err)
		}
	}
	return AnswerLive(context.Background(), sp, q)
}

func (b *Bench) space(s identify.Stage) (*identify.Space, error) {
	n := s.Normal()
	if i := slices.IndexFunc(b.spaces, func(k kept) bool { return k.stage == n }); i >= 0 {
		k := b.spaces[i]
		b.spaces = slices.Insert(slices.Delete(b.spaces, i, i+1), 0, k)
		return k.space, nil
	}
	sp, err := identify.NewSpace(n)
	if err != nil {
		return nil, err
	}
	b.spaces = slices.Insert(b.spaces, 0, kept{n, sp})
	b.spaces = b.spaces[:min(len(b.spaces), spacesKept)]
	return sp, nil
}

// refused is an error as a problem document (RFC 9457).
func refused(err error) (int, []byte) {
	type field struct {
		Field   string `json:"field"`
		Message string `json:"message"`
	}
	p := struct {
		Type   string  `json:"type"`
		Title  string  `json:"title"`
		Status int     `json:"status"`
		Detail string  `json:"detail"`
		Errors []field `json:"errors,omitempty"`
	}{"about:blank", "Please check what was entered", 422, err.Error(), nil}
	var all fault.Errors
	var one *fault.Error
	switch {
	case errors.Is(err, errPath):
		p.Title, p.Status = "Not Found", 404
	case errors.As(err, &all):
		for _, e := range all {
			p.Errors = append(p.Errors, field{"/" + e.Field, e.Message})
		}
	case errors.As(err, &one):
		p.Errors = []field{{"/" + one.Field, one.Message}}
	}
	if len(p.Errors) > 0 {
		p.Detail = p.Errors[0].Message
	}
	body, err := json.Marshal(p)
	if err != nil {
		return 500, []byte(fmt.Sprintf(`{"status":500,"detail":%q}`, err.Error()))
	}
	return p.Status, body
}
