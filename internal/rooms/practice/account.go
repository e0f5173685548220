package practice

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"time"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/fault"
	"zorvel/core/practice/drills"
	"zorvel/core/practice/progress"
	"zorvel/internal/keyed"
	"zorvel/internal/paper"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// today counts days from 1970 as the server has them; a learner's own day may be the one
// before or after.
func today() int { return int(time.Now().UTC().Unix() / (24 * 60 * 60)) }

// GetPractice gives a person's own results.
func (s *Room) GetPractice(ctx context.Context, _ api.GetPracticeRequestObject) (api.GetPracticeResponseObject, error) {
	me := signin.Person(ctx)
	rows, err := s.store.Practiced(ctx, me.ID)
	if err != nil {
		return nil, err
	}
	shared, err := s.store.SharesPractice(ctx, me.ID)
	return api.GetPractice200JSONResponse{Results: read(rows), Shared: shared}, err
}

// read reads saved results; one that can't be read any more is passed over.
func read(rows []json.RawMessage) []progress.Result {
	out := []progress.Result{}
	for _, raw := range rows {
		var r progress.Result
		if json.Unmarshal(raw, &r) == nil && r.Check() == nil {
			out = append(out, r)
		}
	}
	return out
}

// AddPractice scores what was done anew, and saves what it came to.
func (s *Room) AddPractice(ctx context.Context, r api.AddPracticeRequestObject) (api.AddPracticeResponseObject, error) {
	b := r.Body
	if d := b.Day - today(); d > 1 {
		return nil, problem.Field("/day", "that day has not come yet. Set the clock of this device")
	}
	var res progress.Result
	var err error
	switch {
	case b.Unit != nil && b.Card == nil:
		res, err = progress.OfUnit(*b.Unit, b.Day)
		err = fault.Under("unit", err)
	case b.Card != nil && b.Unit == nil:
		res, err = progress.OfCard(*b.Card, b.Day)
		err = fault.Under("card", err)
	default:
		err = problem.Field("/unit", "a unit or a card: one of the two")
	}
	if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(res)
	if err != nil {
		return nil, err
	}
	if err := s.store.AddPracticed(ctx, signin.Person(ctx).ID, b.Key, keyed.Content(b, b.Key), raw); err != nil {
		return nil, keyed.Refused(err, "result")
	}
	return api.AddPractice201JSONResponse(res), nil
}

// SharePractice lets the owner see how far a person is, or not.
func (s *Room) SharePractice(ctx context.Context, r api.SharePracticeRequestObject) (api.SharePracticeResponseObject,
	error) {
	return api.SharePractice204Response{}, s.store.SharePractice(ctx, signin.Person(ctx).ID, r.Body.Shared)
}

// PracticeCertificate prints what a person has mastered, as this server scored it.
func (s *Room) PracticeCertificate(ctx context.Context, _ api.PracticeCertificateRequestObject) (
	api.PracticeCertificateResponseObject, error) {
	me := signin.Person(ctx)
	rows, err := s.store.Practiced(ctx, me.ID)
	if err != nil {
		return nil, err
	}
	board, err := progress.Work(progress.Question{Results: read(rows), Day: today()})
	if err != nil {
		return nil, err
	}
	head, err := s.index.Letterhead(ctx)
	if err != nil {
		return nil, err
	}
	b, err := paper.Practice(board, head, me.Name, "Scored by the shop's server on "+
		""+time.Now().UTC().Format("January 2, 2006")+".")
	return api.PracticeCertificate200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

// PracticeSheet prints what was mastered on a device.
func (s *Room) PracticeSheet(_ context.Context, r api.PracticeSheetRequestObject) (api.PracticeSheetResponseObject,
	error) {
	board, err := progress.Work(r.Body.Results)
	if err != nil {
		return nil, fault.Under("results", err)
	}
	b, err := paper.Practice(board, catalog.Letterhead{}, r.Body.Name,
		"By the count of one device; no server has scored it.")
	return api.PracticeSheet200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

// leastClass is how many must have practiced before anything is told of them without names.
const leastClass = 3

// mostWeak is how many weak spots are named.
const mostWeak = 6

// PracticeClass tells the owner how the class does: without names, and by name who shares.
func (s *Room) PracticeClass(ctx context.Context, _ api.PracticeClassRequestObject) (api.PracticeClassResponseObject,
	error) {
	learners, err := s.store.Learners(ctx)
	if err != nil {
		return nil, err
	}
	out := api.PracticeClass200JSONResponse{People: len(learners), Skills: []api.PracticeClassSkill{},
		Weak:   []api.PracticeWeak{},
		Shared: []api.PracticeLearner{}}
	weak := map[string]int{}
	var boards []*progress.Board
	for _, l := range learners {
		results := read(l.Results)
		b, err := progress.Work(progress.Question{Results: results, Day: today()})
		if err != nil {
			return nil, err
		}
		boards = append(boards, b)
		for _, r := range results {
			for _, h := range r.Helps {
				weak[h]++
			}
		}
		if l.Name != "" {
			out.Shared = append(out.Shared, api.PracticeLearner{Name: l.Name, Board: *b})
		}
	}
	if len(boards) >= leastClass {
		out.Skills, out.Weak = skills(boards), weakest(weak)
	}
	return out, nil
}

// skills counts who mastered each level.
func skills(boards []*progress.Board) []api.PracticeClassSkill {
	var out []api.PracticeClassSkill
	for _, b := range boards {
		for i, sk := range slices.Concat(b.Units, b.Drills) {
			if i == len(out) {
				out = append(out, api.PracticeClassSkill{Title: sk.Title, Mastered: make([]int, len(sk.Levels))})
			}
			for k, l := range sk.Levels {
				if l.Mastered {
					out[i].Mastered[k]++
				}
			}
		}
	}
	return out
}

func weakest(times map[string]int) []api.PracticeWeak {
	out := []api.PracticeWeak{}
	for _, d := range drills.List() {
		if n := times[d.ID]; n > 0 {
			out = append(out, api.PracticeWeak{Drill: d.ID, Title: d.Title, Times: n})
		}
	}
	slices.SortStableFunc(out, func(a, b api.PracticeWeak) int { return b.Times - a.Times })
	return out[:min(len(out), mostWeak)]
}

var errTasksFull = problem.New(http.StatusConflict, "Full",
	fmt.Sprintf("A shop has at most %d tasks. Remove one first.", store.MostTasks))

// refusedTask tells what the store says of a task.
func refusedTask(err error) error {
	if errors.Is(err, store.ErrInUse) {
		return errTasksFull
	}
	return keyed.Refused(err, "task")
}
