package exchange

import (
	"context"
	"fmt"
	"slices"
	"time"

	"zorvel/api"
	"zorvel/internal/jobfacts"
	"zorvel/internal/problem"
	"zorvel/internal/store"
)

// exportJobs puts a unit's jobs, meters and services into its document, oldest
// first.
func (s *Room) exportJobs(ctx context.Context, unit int64, doc *api.UnitDocument, at places) error {
	list, err := s.store.UnitJobs(ctx, unit)
	if err != nil {
		return err
	}
	var jobs []api.DocumentJob
	for _, j := range slices.Backward(list) {
		work, err := s.store.JobWork(ctx, j.ID)
		if err != nil {
			return err
		}
		x := api.DocumentJob{Complaint: j.Complaint, State: api.JobState(j.State),
			Who: j.Who, By: j.By, At: j.At, ClosedAt: j.ClosedAt, HandOver: api.Some(j.HandOver), Work: []api.DocumentWork{}}
		if err := jobfacts.Into(&x, j); err != nil {
			return err
		}
		for k, w := range work {
			at.work[w.ID] = [2]int{len(jobs) + 1, k + 1}
			x.Work = append(x.Work, documentWork(w))
		}
		jobs = append(jobs, x)
		at.jobs[j.ID] = len(jobs)
	}
	if jobs != nil {
		doc.Jobs = &jobs
	}
	served, err := s.store.Served(ctx, unit)
	if err != nil {
		return err
	}
	var alone []api.DocumentWork
	for _, w := range served {
		if w.JobID == 0 {
			alone = append(alone, documentWork(w))
		}
	}
	if alone != nil {
		doc.Service = &alone
	}
	return nil
}

func documentWork(w store.Work) api.DocumentWork {
	return api.DocumentWork{Kind: api.WorkKind(w.Kind), What: api.Some(w.What), Part: api.Some(w.Part),
		Text: api.Some(w.Text), Minutes: w.Minutes, Hours: w.Hours, Km: w.KM, Sessions: w.Sessions,
		Meter: api.Some(w.Meter), DoneAt: w.DoneAt, By: w.By, At: w.At}
}

// importJobs reads the jobs, meters and services of a document.
func importJobs(in *store.Import, doc api.UnitDocument) error {
	read := func(w api.DocumentWork, field string) (store.Work, error) {
		for name, at := range map[string]time.Time{"/at": w.At, "/done_at": w.DoneAt} {
			if err := checkDate(at, field+name); err != nil {
				return store.Work{}, err
			}
		}
		return store.Work{Kind: string(w.Kind), What: api.Value(w.What), Part: api.Value(w.Part), Text: api.Value(w.Text),
			Minutes: w.Minutes, Hours: w.Hours, KM: w.Km, Sessions: w.Sessions,
			Meter: api.Value(w.Meter), DoneAt: w.DoneAt, By: w.By, At: w.At}, nil
	}
	for i, j := range api.Value(doc.Jobs) {
		field := fmt.Sprintf("/jobs/%d", i)
		if err := checkDate(j.At, field+"/at"); err != nil {
			return err
		}
		if (j.ClosedAt != nil) != (string(j.State) == store.JobClosed) {
			return problem.Field(field+"/closed_at", "a job that is closed has it, and no other")
		}
		if j.ClosedAt != nil {
			if err := checkDate(*j.ClosedAt, field+"/closed_at"); err != nil {
				return err
			}
		}
		facts, err := jobfacts.From(j)
		if err != nil {
			return err
		}
		x := store.ImportJob{Job: store.Job{Complaint: j.Complaint, Facts: facts, State: string(j.State),
			Who: j.Who, By: j.By, At: j.At, ClosedAt: j.ClosedAt, HandOver: api.Value(j.HandOver)}}
		lines := field + "/work"
		for k, w := range j.Work {
			line, err := read(w, fmt.Sprintf("%s/%d", lines, k))
			if err != nil {
				return err
			}
			x.Work = append(x.Work, line)
		}
		in.Jobs = append(in.Jobs, x)
	}
	for k, w := range api.Value(doc.Service) {
		field := fmt.Sprintf("/service/%d", k)
		if string(w.Kind) != store.WorkMeter && string(w.Kind) != store.WorkService {
			return problem.Field(field+"/kind", "meter or service; the rest belongs to a job")
		}
		line, err := read(w, field)
		if err != nil {
			return err
		}
		in.Service = append(in.Service, line)
	}
	return nil
}

// exportDriveline is the driveline for a unit document, as it was kept.
func (s *Room) exportDriveline(ctx context.Context, unit int64) (*api.DocumentDriveline, error) {
	d, doc, err := s.units.DrivelineOf(ctx, unit)
	if err != nil {
		return nil, err
	}
	out := api.DocumentDriveline{Document: *doc}
	var states []api.SavedState
	if err := store.Read("the saved positions on record", d.States, &states); err != nil {
		return nil, err
	}
	if len(states) > 0 {
		out.States = &states
	}
	return &out, nil
}

// exportDecisions are a unit's decisions for its document.
func (s *Room) exportDecisions(ctx context.Context, unit int64) (*[]api.DocumentDecision, error) {
	list, err := s.store.EveryDecision(ctx, unit)
	if err != nil || len(list) == 0 {
		return nil, err
	}
	out := make([]api.DocumentDecision, len(list))
	for i, d := range list {
		out[len(list)-1-i] = api.DocumentDecision{Kind: api.DecisionKind(d.Kind), Title: d.Title, Note: api.Some(d.Note),
			By: d.By, At: d.At, Question: d.Question, Answer: d.Answer}
	}
	return &out, nil
}

func importDecisions(list *[]api.DocumentDecision) []store.Decision {
	var out []store.Decision
	for _, d := range api.Value(list) {
		out = append(out, store.Decision{Kind: string(d.Kind), Title: d.Title, Note: api.Value(d.Note), By: d.By,
			At: d.At.UTC(), Question: d.Question, Answer: d.Answer})
	}
	return out
}
