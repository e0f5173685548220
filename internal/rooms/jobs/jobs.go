package jobs

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/findfault"
	"zorvel/core/regear"
	"zorvel/core/service"
	"zorvel/internal/index"
	"zorvel/internal/jobfacts"
	"zorvel/internal/keyed"
	"zorvel/internal/paper"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

var (
	errJobClosed = problem.New(http.StatusConflict, "Closed", "This job is closed; open another one for what came after.")
	errJobsFull  = problem.New(http.StatusConflict, "Full", "There are as many as there may be: close a job of this unit first.")
)

func jobError(err error) error {
	switch {
	case errors.Is(err, store.ErrClosed):
		return errJobClosed
	case errors.Is(err, store.ErrInUse):
		return errJobsFull
	case errors.Is(err, store.ErrArchived):
		return problem.New(http.StatusConflict, "Archived", "This unit is in the archive. Take it out, then open the job.")
	}
	return keyed.Refused(err, "job or line")
}

func jobOut(j store.Job) (api.JobSummary, error) {
	out := api.JobSummary{Id: j.ID, UnitId: j.UnitID, Unit: j.Unit, UnitKind: api.UnitKind(j.UnitKind),
		Complaint: j.Complaint, State: api.JobState(j.State), Who: j.Who, By: j.By, At: j.At,
		ChangedAt: j.ChangedAt, ClosedAt: j.ClosedAt, Minutes: j.Minutes}
	return out, jobfacts.Into(&out, j)
}

func jobsOut(list []store.Job) ([]api.JobSummary, error) {
	out := make([]api.JobSummary, len(list))
	for i, j := range list {
		var err error
		if out[i], err = jobOut(j); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func workOut(w store.Work) api.Work {
	return api.Work{Id: w.ID, Kind: api.WorkKind(w.Kind), What: w.What, Part: w.Part, Text: w.Text, Minutes: w.Minutes, Hours: w.Hours, Km: w.KM, Sessions: w.Sessions,
		Meter: api.Some(w.Meter), DoneAt: w.DoneAt, By: w.By, At: w.At}
}

// ListJobs is the board.
func (s *Room) ListJobs(ctx context.Context, _ api.ListJobsRequestObject) (api.ListJobsResponseObject, error) {
	open, err := s.store.OpenJobs(ctx)
	if err != nil {
		return nil, err
	}
	closed, err := s.store.ClosedJobs(ctx)
	if err != nil {
		return nil, err
	}
	var out api.ListJobs200JSONResponse
	if out.Open, err = jobsOut(open); err != nil {
		return nil, err
	}
	out.Closed, err = jobsOut(closed)
	return out, err
}

// ListUnitJobs lists a unit's jobs.
func (s *Room) ListUnitJobs(ctx context.Context, r api.ListUnitJobsRequestObject) (api.ListUnitJobsResponseObject, error) {
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := s.store.UnitJobs(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out, err := jobsOut(list)
	return api.ListUnitJobs200JSONResponse(out), err
}

// OpenJob opens a job.
func (s *Room) OpenJob(ctx context.Context, r api.OpenJobRequestObject) (api.OpenJobResponseObject, error) {
	p := signin.Person(ctx)
	complaint := strings.TrimSpace(r.Body.Complaint)
	if complaint == "" {
		return nil, problem.Field("/complaint", "in the owner's words: what is it here for?")
	}
	who := strings.TrimSpace(api.Value(r.Body.Who))
	if who == "" {
		who = p.Name
	}
	facts, err := jobfacts.From(r.Body)
	if err != nil {
		return nil, err
	}
	id, err := s.store.OpenJob(ctx, store.Job{UnitID: r.Id, Complaint: complaint, Facts: facts, Who: who, By: p.Name}, r.Body.Key,
		keyed.Content(*r.Body, r.Body.Key))
	if err != nil {
		return nil, jobError(err)
	}
	out, err := s.jobPage(ctx, id)
	return api.OpenJob201JSONResponse(out), err
}

// GetJob returns a job with everything entered.
func (s *Room) GetJob(ctx context.Context, r api.GetJobRequestObject) (api.GetJobResponseObject, error) {
	out, err := s.jobPage(ctx, r.Id)
	return api.GetJob200JSONResponse(out), err
}

func (s *Room) jobPage(ctx context.Context, id int64) (api.Job, error) {
	j, err := s.store.Job(ctx, id)
	if err != nil {
		return api.Job{}, err
	}
	sum, err := jobOut(j)
	if err != nil {
		return api.Job{}, err
	}
	out := api.Job{Job: sum, HandOver: j.HandOver, Work: []api.Work{}, Open: []api.JobOpen{},
		Decisions: []api.DecisionSummary{}, Cards: []api.JobCard{}}
	work, err := s.store.JobWork(ctx, id)
	if err != nil {
		return out, err
	}
	for _, w := range work {
		out.Work = append(out.Work, workOut(w))
	}
	until := time.Now().UTC().Add(time.Hour)
	if j.ClosedAt != nil {
		until = *j.ClosedAt
	}
	during := func(at time.Time) bool { return !at.Before(j.At) && !at.After(until) }
	decisions, err := s.store.Decisions(ctx, j.UnitID)
	if err != nil {
		return out, err
	}
	for _, d := range decisions {
		if during(d.At) {
			out.Decisions = append(out.Decisions, s.decisions.Summary(d))
		}
	}
	runs, err := s.store.CardRuns(ctx, j.UnitID)
	if err != nil {
		return out, err
	}
	for _, c := range runs {
		if during(c.At) || c.ClosedAt == nil && j.ClosedAt == nil {
			out.Cards = append(out.Cards, api.JobCard{Id: c.ID, Title: c.Run.Card.Title, Closed: c.ClosedAt != nil})
		}
	}
	if j.ClosedAt == nil {
		out.Open, err = s.jobOpen(ctx, j, decisions, runs)
	}
	return out, err
}

// jobOpen lists what closing asks about: ratios that were measured and aren't
// settled, what records leave open, cards in hand, verdicts without their repair, a
// re-gear without its speedometer, and what is overdue.
func (s *Room) jobOpen(ctx context.Context, j store.Job, decisions []store.Decision, runs []store.CardRun) ([]api.JobOpen, error) {
	out := []api.JobOpen{}
	add := func(id, what, why string) { out = append(out, api.JobOpen{Id: id, What: what, Why: why}) }
	_, open, err := s.cards.StillOpen(ctx, store.CardRun{UnitID: j.UnitID})
	if err != nil {
		return out, err
	}
	for _, o := range open {
		add(o.ID, o.What, o.Why)
	}
	for _, c := range runs {
		if c.ClosedAt == nil {
			add(fmt.Sprintf("card_%d", c.ID), "A card is in progress: "+c.Run.Card.Title, "begun by "+c.By)
		}
	}
	out = append(out, leftOpen(j, decisions)...)
	a, _, _, trouble, err := s.DueOf(ctx, j.UnitID)
	if err != nil {
		return out, err
	}
	if trouble != "" {
		add("meters", "Its meters contradict each other", trouble)
	}
	for _, d := range a.Due {
		if d.State == service.Overdue {
			add("due_"+d.What+"_"+d.Part, strings.Trim("Overdue: "+d.What+", "+d.Name, ", "), d.Words)
		}
	}
	return out, nil
}

// leftOpen are verdicts of this job that no repair has proved, and gears that were
// changed in it without a look at the speedometer.
func leftOpen(j store.Job, decisions []store.Decision) []api.JobOpen {
	var out []api.JobOpen
	proved := map[int64]bool{}
	checked := time.Time{}
	for _, d := range decisions {
		switch d.Kind {
		case "repair":
			var of api.FaultRepair
			var r findfault.Repair
			if json.Unmarshal(d.Question, &of) == nil && json.Unmarshal(d.Answer, &r) == nil && r.Cured {
				proved[of.Verdict] = true
			}
		case "speedometer", "calibration", "check":
			if d.At.After(checked) {
				checked = d.At
			}
		}
	}
	for _, d := range decisions {
		if d.At.Before(j.At) || d.TakenIn != nil {
			continue
		}
		switch {
		case d.Kind == "fault" && !proved[d.ID]:
			out = append(out, api.JobOpen{Id: fmt.Sprintf("verdict_%d", d.ID), What: "A verdict waits for its repair", Why: d.Title})
		case d.Kind == "regear" && checked.Before(d.At):
			out = append(out, api.JobOpen{Id: "calibration", What: "The speedometer: gears or tires changed, and it was not set or checked since", Why: d.Title})
		}
	}
	return out
}

// states that a job may be put into.
var jobStates = []string{store.JobWaiting, store.JobOnStands, store.JobMeasured, store.JobDecided, store.JobOrdered}

// EnterJob enters a line in a job.
func (s *Room) EnterJob(ctx context.Context, r api.EnterJobRequestObject) (api.EnterJobResponseObject, error) {
	j, err := s.store.Job(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	if err := s.enter(ctx, j.UnitID, j.ID, r.Body); err != nil {
		return nil, err
	}
	out, err := s.jobPage(ctx, r.Id)
	return api.EnterJob200JSONResponse(out), err
}

// enter checks a line and puts it in.
func (s *Room) enter(ctx context.Context, unit, job int64, b *api.NewWork) error {
	p := signin.Person(ctx)
	w := store.Work{UnitID: unit, JobID: job, Key: b.Key, Content: keyed.Content(*b, b.Key), Kind: string(b.Kind),
		What: strings.TrimSpace(api.Value(b.What)), Part: api.Value(b.Part), Text: strings.TrimSpace(api.Value(b.Text)),
		Minutes: b.Minutes, Hours: b.Hours, KM: b.Km, Sessions: b.Sessions, Meter: api.Value(b.Meter), By: p.Name}
	if b.DoneAt != nil {
		if b.DoneAt.After(time.Now().Add(24*time.Hour)) || b.DoneAt.Year() < 1900 {
			return problem.Field("/done_at", "a day that has been")
		}
		w.DoneAt = b.DoneAt.UTC()
	}
	if err := s.checkWork(ctx, &w); err != nil {
		return err
	}
	err := s.store.EnterWork(ctx, w, func(before []store.Work) error {
		if w.Kind != store.WorkMeter {
			return nil
		}
		at := w
		if at.DoneAt.IsZero() {
			at.DoneAt = time.Now().UTC()
		}
		return judgeMeter(before, at)
	})
	return jobError(err)
}

// checkWork refuses a line that lacks what its kind needs.
func (s *Room) checkWork(ctx context.Context, w *store.Work) error {
	if w.Part != "" {
		parts, err := s.cards.UnitParts(ctx, w.UnitID)
		if err != nil {
			return err
		}
		if !slices.Contains(parts, w.Part) {
			return problem.Field("/part", "this unit has no such part")
		}
	}
	if w.Kind != store.WorkMeter && (w.Hours != nil || w.KM != nil || w.Sessions != nil || w.Meter != "") {
		return problem.Field("/kind", "what a meter reads is entered as a meter")
	}
	switch w.Kind {
	case store.WorkNote, store.WorkFinding, store.WorkDone:
		if w.Text == "" {
			return problem.Field("/text", "what is to be written down?")
		}
	case store.WorkState:
		if !slices.Contains(jobStates, w.What) {
			return problem.Field("/what", "one of "+strings.Join(jobStates, ", ")+"; closing is asked for by itself")
		}
	case store.WorkTaken:
		if w.What == "" {
			return problem.Field("/what", "who takes it over?")
		}
	case store.WorkMeter:
		if w.Hours == nil && w.KM == nil && w.Sessions == nil {
			return problem.Field("/km", "what does it read: km, hours or sessions?")
		}
	case store.WorkService:
		if w.What == "" {
			return problem.Field("/what", "what was done?")
		}
	}
	return nil
}

// CloseJob closes a job.
func (s *Room) CloseJob(ctx context.Context, r api.CloseJobRequestObject) (api.CloseJobResponseObject, error) {
	p := signin.Person(ctx)
	j, err := s.store.Job(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	err = keyed.Judged(ctx, s.store, j.UnitID, func(rev store.Revision) error { return s.closeJob(ctx, rev, r, p.Name) })
	if err != nil {
		return nil, jobError(err)
	}
	out, err := s.jobPage(ctx, r.Id)
	return api.CloseJob200JSONResponse(out), err
}

// closeJob closes a job as its unit stands at a revision.
func (s *Room) closeJob(ctx context.Context, rev store.Revision, r api.CloseJobRequestObject, by string) error {
	page, err := s.jobPage(ctx, r.Id)
	if err != nil {
		return err
	}
	if page.Job.ClosedAt != nil {
		return store.ErrClosed
	}
	accepted := api.Value(r.Body.Accept)
	var left, on []string
	for _, o := range page.Open {
		if slices.Contains(accepted, o.Id) {
			on = append(on, o.What)
		} else {
			left = append(left, o.What)
		}
	}
	handOver := strings.TrimSpace(api.Value(r.Body.HandOver))
	if len(on) > 0 {
		handOver = strings.TrimSpace(handOver + "\nLeft open: " + strings.Join(on, "; ") + ".")
	}
	if len([]rune(handOver)) > 2000 {
		return problem.Field("/hand_over", "at most 2000 characters, with what is left open")
	}
	if len(left) > 0 {
		return problem.Field("/accept", "Still open: "+strings.Join(left[:min(5, len(left))], "; ")+".")
	}
	return s.store.CloseJob(ctx, r.Id, rev, by, handOver)
}

// GetJobPDF prints the job sheet with the gear report, or the owner's sheet.
func (s *Room) GetJobPDF(ctx context.Context, r api.GetJobPDFRequestObject) (api.GetJobPDFResponseObject, error) {
	page, err := s.jobPage(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	sh := paper.Job{Page: page, Owner: r.Params.Sheet != nil && string(*r.Params.Sheet) == "owner"}
	if sh.Unit, err = s.units.Load(ctx, page.Job.UnitId); err != nil {
		return nil, err
	}
	var trouble string
	if sh.Due, _, sh.Doc, trouble, err = s.DueOf(ctx, page.Job.UnitId); err != nil {
		return nil, err
	}
	sh.Trouble = trouble
	if sh.Told, err = jobfacts.List(page.Job); err != nil {
		return nil, err
	}
	if sh.Head, err = s.index.Letterhead(ctx); err != nil {
		return nil, err
	}
	prices, err := index.Entries(ctx, s.index, catalog.Prices, index.Always(catalog.Row.Price))
	if err != nil {
		return nil, err
	}
	if rate, ok := regear.PriceOf(prices, regear.ItemRate, "", ""); ok {
		sh.Rate = &rate
	}
	if sh.Photos, err = s.photosOf(ctx, page.Job); err != nil {
		return nil, err
	}
	b, err := sh.Print()
	return api.GetJobPDF200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

// mostPhotos bounds the pictures on a job's sheet: the newest.
const mostPhotos = 6

// photosOf are the pictures that belong to a job, newest first.
func (s *Room) photosOf(ctx context.Context, j api.JobSummary) ([]paper.Photo, error) {
	list, err := s.store.Photos(ctx, j.UnitId)
	var out []paper.Photo
	for _, p := range list {
		if p.JobID != j.Id || len(out) == mostPhotos {
			continue
		}
		data, err := s.store.Picture(ctx, p.ID, "full")
		if err != nil {
			return nil, err
		}
		out = append(out, paper.Photo{Title: p.Title, JPEG: data, Width: p.Width, Height: p.Height})
	}
	return out, err
}

// GetWallPage prints a unit's page for the wall.
func (s *Room) GetWallPage(ctx context.Context, r api.GetWallPageRequestObject) (api.GetWallPageResponseObject, error) {
	var w paper.Wall
	var err error
	if w.Unit, err = s.units.Load(ctx, r.Id); err != nil {
		return nil, err
	}
	if w.Due, _, w.Doc, w.Trouble, err = s.DueOf(ctx, r.Id); err != nil {
		return nil, err
	}
	if w.Head, err = s.index.Letterhead(ctx); err != nil {
		return nil, err
	}
	if o := api.Value(r.Params.Origin); o != "" {
		w.Link = fmt.Sprintf("%s/units/%d", o, r.Id)
	}
	b, err := w.Print()
	return api.GetWallPage200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}
