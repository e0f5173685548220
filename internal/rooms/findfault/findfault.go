package findfault

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/fault"
	"zorvel/core/findfault"
	"zorvel/core/say"
	"zorvel/core/shift"
	"zorvel/internal/paper"
	"zorvel/internal/problem"
	"zorvel/internal/record"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// FindFault answers which part is broken.
func (s *Room) FindFault(ctx context.Context, r api.FindFaultRequestObject) (api.FindFaultResponseObject, error) {
	a, err := findfault.Find(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	return api.FindFault200JSONResponse(*a), nil
}

// ListComplaints lists what people say of such a driveline, or what it may do with its
// levers set so.
func (s *Room) ListComplaints(_ context.Context, r api.ListComplaintsRequestObject) (api.ListComplaintsResponseObject, error) {
	var list []findfault.Complaint
	var err error
	if r.Body.State != nil {
		list, err = findfault.ComplaintsAt(&r.Body.Driveline, *r.Body.State)
	} else {
		list, err = findfault.Complaints(&r.Body.Driveline)
	}
	if err != nil {
		return nil, err
	}
	return api.ListComplaints200JSONResponse(list), nil
}

// ListSigns is the table by which signs are weighed.
func (s *Room) ListSigns(_ context.Context, r api.ListSignsRequestObject) (api.ListSignsResponseObject, error) {
	list, err := findfault.Table(&r.Body.Driveline)
	if err != nil {
		return nil, err
	}
	return api.ListSigns200JSONResponse(list), nil
}

// FirstBroken says which of several broken parts broke first.
func (s *Room) FirstBroken(_ context.Context, r api.FirstBrokenRequestObject) (api.FirstBrokenResponseObject, error) {
	a, err := findfault.First(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.FirstBroken200JSONResponse(*a), nil
}

// Shock says what a wheel that grips again does.
func (s *Room) Shock(_ context.Context, r api.ShockRequestObject) (api.ShockResponseObject, error) {
	a, err := findfault.Shock(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.Shock200JSONResponse(*a), nil
}

// ShiftMechanism says what a dog clutch does when it is shifted.
func (s *Room) ShiftMechanism(_ context.Context, r api.ShiftMechanismRequestObject) (api.ShiftMechanismResponseObject, error) {
	a, err := shift.Work(*r.Body)
	if err != nil {
		return nil, err
	}
	return api.ShiftMechanism200JSONResponse(*a), nil
}

// FaultSheet prints the protocol of a search.
func (s *Room) FaultSheet(ctx context.Context, r api.FaultSheetRequestObject) (api.FaultSheetResponseObject, error) {
	a, err := findfault.Find(ctx, r.Body.Fault)
	if err != nil {
		return nil, fault.Under("fault", err)
	}
	var head catalog.Letterhead
	if signin.Person(ctx) != nil { // the shop's address is not a stranger's to print
		if head, err = s.index.Letterhead(ctx); err != nil {
			return nil, err
		}
	}
	b, err := paper.Fault(&r.Body.Fault, a, head, api.Value(r.Body.Title), "")
	return api.FaultSheet200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

func (s *Room) decide(ctx context.Context, b *api.NewDecision, d *store.Decision) error {
	find := func(q findfault.Question) (*findfault.Answer, error) { return findfault.Find(ctx, q) }
	return record.Keep(d, "fault", b.Fault, find, func(a *findfault.Answer) string { return "Fault: " + a.Sentence })
}

// decideRepair holds what was found against a verdict on record.
func (s *Room) decideRepair(ctx context.Context, b *api.NewDecision, d *store.Decision) error {
	if b.Repair == nil {
		return problem.Field("/repair", "what was found is needed")
	}
	of, err := s.store.Decision(ctx, b.Repair.Verdict)
	if err != nil || of.UnitID != d.UnitID || of.Kind != "fault" {
		return problem.Field("/repair/verdict", "a verdict that is on record for this unit")
	}
	var q findfault.Question
	var a findfault.Answer
	if json.Unmarshal(of.Question, &q) != nil || json.Unmarshal(of.Answer, &a) != nil {
		return problem.Field("/repair/verdict", "that record came in a document, and its verdict can't be read")
	}
	r, err := findfault.Prove(&q, &a, api.Value(b.Repair.Found), strings.TrimSpace(api.Value(b.Repair.Other)), b.Repair.Cured)
	if err != nil {
		return fault.Under("repair", err)
	}
	d.Title = r.Sentence
	if d.Question, err = json.Marshal(b.Repair); err != nil {
		return err
	}
	d.Answer, err = json.Marshal(r)
	return err
}

// Bounds of the shop's record of verdicts.
const (
	mostVerdicts = 100
	mostRepairs  = 200
	mostWeighed  = 5000
)

// Repairs is what repairs proved, each verdict's newest, with those whose verdict is on
// another shop's record; cured tells by verdict whether it was settled.
func (s *Room) Repairs(ctx context.Context) (list []findfault.Repair, rows []store.UnitDecision, cured map[int64]bool,
	err error) {
	if rows, err = s.store.Kind(ctx, "repair", true, mostWeighed); err != nil {
		return nil, nil, nil, err
	}
	cured = map[int64]bool{}
	told := map[int64]bool{}
	for _, d := range rows {
		var of api.FaultRepair
		var r findfault.Repair
		if json.Unmarshal(d.Question, &of) != nil || json.Unmarshal(d.Answer, &r) != nil || r.Result == "" {
			continue
		}
		if d.TakenIn == nil {
			if told[of.Verdict] {
				continue
			}
			told[of.Verdict] = true
			cured[of.Verdict] = r.Cured
		}
		list = append(list, r)
	}
	return list, rows, cured, nil
}

// FaultRecord says how often verdicts were right.
func (s *Room) FaultRecord(ctx context.Context, _ api.FaultRecordRequestObject) (api.FaultRecordResponseObject, error) {
	list, repairs, proved, err := s.Repairs(ctx)
	if err != nil {
		return nil, err
	}
	pool, err := s.index.Experience(ctx)
	if err != nil {
		return nil, err
	}
	verdicts, err := s.store.Kind(ctx, "fault", false, mostWeighed)
	if err != nil {
		return nil, err
	}
	out := api.FaultRecord200JSONResponse{Open: []api.FaultEntry{}, Repairs: []api.FaultEntry{}}
	for _, d := range repairs[:min(len(repairs), mostRepairs)] {
		out.Repairs = append(out.Repairs, faultEntry(d))
	}
	// The newest repair of a verdict counts; one that did not cure leaves it open.
	for _, d := range verdicts {
		if !proved[d.ID] && d.TakenIn == nil && len(out.Open) < mostVerdicts {
			out.Open = append(out.Open, faultEntry(d))
		}
	}
	out.Record = findfault.Tell(list, pool.Faults())
	return out, nil
}

func faultEntry(d store.UnitDecision) api.FaultEntry {
	return api.FaultEntry{Id: d.ID, UnitId: d.UnitID, Unit: d.Unit, Text: d.Title, By: d.By, At: d.At}
}

func printSheet(d store.Decision, u store.Unit, head catalog.Letterhead) ([]byte, error) {
	var q findfault.Question
	var a findfault.Answer
	if json.Unmarshal(d.Question, &q) != nil || json.Unmarshal(d.Answer, &a) != nil || len(a.Suspects) == 0 {
		return nil, record.ErrNoFigures
	}
	return paper.Fault(&q, &a, head, u.Name, fmt.Sprintf("saved by %s on %s", d.By, say.Day(d.At)))
}
