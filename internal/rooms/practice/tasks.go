package practice

import (
	"context"
	"encoding/json"
	"net/http"

	"zorvel/api"
	"zorvel/core/fault"
	"zorvel/core/practice"
	"zorvel/internal/keyed"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// head is a task without its truth.
func head(p store.PracticeTask) (api.PracticeTaskHead, error) {
	var o practice.Own
	err := json.Unmarshal(p.Task, &o)
	return api.PracticeTaskHead{Id: p.ID, Title: o.Title, Story: o.Story, By: p.By, At: p.At}, err
}

// ListPracticeTasks lists the tasks that teachers made.
func (s *Room) ListPracticeTasks(ctx context.Context,
	_ api.ListPracticeTasksRequestObject) (api.ListPracticeTasksResponseObject, error) {
	rows, err := s.store.PracticeTasks(ctx)
	if err != nil {
		return nil, err
	}
	out := api.ListPracticeTasks200JSONResponse{}
	for _, p := range rows {
		h, err := head(p)
		if err != nil {
			continue // a later version wrote it, or somebody by hand
		}
		out = append(out, h)
	}
	return out, nil
}

// AddPracticeTask saves a task.
func (s *Room) AddPracticeTask(ctx context.Context,
	r api.AddPracticeTaskRequestObject) (api.AddPracticeTaskResponseObject, error) {
	b := r.Body
	if err := b.Task.Check(); err != nil {
		return nil, fault.Under("task", err)
	}
	raw, err := json.Marshal(b.Task)
	if err != nil {
		return nil, err
	}
	id, err := s.store.AddPracticeTask(ctx, b.Key, keyed.Content(b, b.Key), raw, signin.Person(ctx).Name)
	if err != nil {
		return nil, refusedTask(err)
	}
	p, err := s.store.PracticeTask(ctx, id)
	if err != nil {
		return nil, err
	}
	h, err := head(p)
	return api.AddPracticeTask201JSONResponse(h), err
}

// PracticeTaskFile is a task with its truth.
func (s *Room) PracticeTaskFile(ctx context.Context,
	r api.PracticeTaskFileRequestObject) (api.PracticeTaskFileResponseObject, error) {
	o, err := s.task(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return api.PracticeTaskFile200JSONResponse(*o), nil
}

func (s *Room) task(ctx context.Context, id int64) (*practice.Own, error) {
	p, err := s.store.PracticeTask(ctx, id)
	if err != nil {
		return nil, err
	}
	var o practice.Own
	if err := json.Unmarshal(p.Task, &o); err != nil || o.Check() != nil {
		return nil, errUnreadable
	}
	return &o, nil
}

var errUnreadable = problem.New(http.StatusConflict, "Not readable",
	"This task can't be read here: a later version may have saved it. Remove it and import its file again.")

// RemovePracticeTask deletes a task.
func (s *Room) RemovePracticeTask(ctx context.Context,
	r api.RemovePracticeTaskRequestObject) (api.RemovePracticeTaskResponseObject,
	error) {
	return api.RemovePracticeTask204Response{}, s.store.RemovePracticeTask(ctx, r.Id)
}

// WorkPracticeTask plays what was done at a teacher's task.
func (s *Room) WorkPracticeTask(ctx context.Context,
	r api.WorkPracticeTaskRequestObject) (api.WorkPracticeTaskResponseObject, error) {
	o, err := s.task(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	scene, err := practice.Work(practice.Question{Task: practice.Task{Kind: "own", Level: 1, Seed: uint32(r.Id)},
		Own: o, Acts: r.Body.Acts})
	if err != nil {
		return nil, err
	}
	return api.WorkPracticeTask200JSONResponse(*scene), nil
}
