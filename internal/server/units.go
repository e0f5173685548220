package server

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"zorvel/api"
	"zorvel/core/identify"
	"zorvel/internal/store"
)

func (s *Server) unitOut(ctx context.Context, sh shop, u store.Unit) (api.Unit, error) {
	out := api.Unit{Id: u.ID, Name: u.Name, Kind: api.UnitKind(u.Kind), Notes: u.Notes, ChangedAt: u.ChangedAt, Version: u.Version, Stages: []api.StageSummary{}}
	for _, v := range u.Stages {
		x, err := s.summarize(ctx, sh, v)
		if ctx.Err() != nil {
			return out, ctx.Err()
		}
		// One stage that can't be reckoned never hides the others.
		trouble := ""
		if err != nil {
			s.log.Error("a stage can't be reckoned", "stage", v.ID, "error", err)
			x, trouble = summary{state: identify.Unknown}, "can't be reckoned: "+why(err)
		}
		out.Stages = append(out.Stages, api.StageSummary{
			Id: v.ID, Name: v.Name, Question: stageOut(kept(v)), State: api.State(x.state), Label: x.label, Build: x.build, Readings: v.Standing, Trouble: some(trouble),
		})
	}
	return out, nil
}

// why says in a few words what is wrong with a stage's evidence.
func why(err error) string {
	var list identify.Errors
	if errors.As(err, &list) && len(list) > 0 {
		return list[0].Message
	}
	var one *identify.Error
	if errors.As(err, &one) {
		return one.Message
	}
	return "its readings can't be read"
}

func (s *Server) loadUnit(ctx context.Context, id int64) (api.Unit, error) {
	u, err := s.store.Unit(ctx, id)
	if err != nil {
		return api.Unit{}, err
	}
	sh, err := s.loadShop(ctx)
	if err != nil {
		return api.Unit{}, err
	}
	return s.unitOut(ctx, sh, u)
}

// ListUnits lists units with the state of their stages.
func (s *Server) ListUnits(ctx context.Context, r api.ListUnitsRequestObject) (api.ListUnitsResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	units, err := s.store.Units(ctx, deref(r.Params.Search))
	if err != nil {
		return nil, err
	}
	sh, err := s.loadShop(ctx)
	if err != nil {
		return nil, err
	}
	out := make(api.ListUnits200JSONResponse, len(units))
	for i, u := range units {
		if out[i], err = s.unitOut(ctx, sh, u); err != nil {
			return nil, err
		}
	}
	return out, nil
}

func newStage(n api.NewStage, field string) (store.Stage, error) {
	st := stageIn(n.Question)
	if err := checkStage(st, field+"/question"); err != nil {
		return store.Stage{}, err
	}
	return store.Stage{Name: strings.TrimSpace(n.Name), Kind: string(st.Kind), Position: st.Position, Held: string(st.Held), Input: string(st.Input)}, nil
}

// AddUnit adds a unit, with stages if given.
func (s *Server) AddUnit(ctx context.Context, r api.AddUnitRequestObject) (api.AddUnitResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	u := store.Unit{Name: strings.TrimSpace(r.Body.Name), Kind: string(r.Body.Kind), Notes: deref(r.Body.Notes)}
	for i, n := range deref(r.Body.Stages) {
		v, err := newStage(n, fmt.Sprintf("/stages/%d", i))
		if err != nil {
			return nil, err
		}
		u.Stages = append(u.Stages, v)
	}
	id, err := s.store.AddUnit(ctx, u, p.Name)
	if err != nil {
		return nil, err
	}
	out, err := s.loadUnit(ctx, id)
	return api.AddUnit201JSONResponse(out), err
}

// GetUnit returns one unit.
func (s *Server) GetUnit(ctx context.Context, r api.GetUnitRequestObject) (api.GetUnitResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	out, err := s.loadUnit(ctx, r.Id)
	return api.GetUnit200JSONResponse(out), err
}

var errUnitChanged = refuse(409, "Changed by someone else", "Someone changed this unit meanwhile. Look at it again before you change it; what you typed is still here.")

// ChangeUnit changes a unit's name, kind or notes.
func (s *Server) ChangeUnit(ctx context.Context, r api.ChangeUnitRequestObject) (api.ChangeUnitResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	u, err := s.store.Unit(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	if b := r.Body.Base; b != nil && *b != u.Version {
		return nil, errUnitChanged
	}
	var said []string
	if n := r.Body.Name; n != nil && strings.TrimSpace(*n) != u.Name {
		said = append(said, "renamed from "+u.Name)
		u.Name = strings.TrimSpace(*n)
	}
	if k := r.Body.Kind; k != nil && string(*k) != u.Kind {
		said = append(said, "kind changed from "+u.Kind)
		u.Kind = string(*k)
	}
	if n := r.Body.Notes; n != nil && *n != u.Notes {
		said = append(said, "notes changed")
		u.Notes = *n
	}
	if len(said) > 0 {
		if err := s.store.ChangeUnit(ctx, u, p.Name, "Unit "+strings.Join(said, ", ")); errors.Is(err, store.ErrChanged) {
			return nil, errUnitChanged
		} else if err != nil {
			return nil, err
		}
	}
	out, err := s.loadUnit(ctx, r.Id)
	return api.ChangeUnit200JSONResponse(out), err
}

// GetHistory lists what happened to a unit.
func (s *Server) GetHistory(ctx context.Context, r api.GetHistoryRequestObject) (api.GetHistoryResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	if _, err := s.store.Unit(ctx, r.Id); err != nil {
		return nil, err
	}
	events, err := s.store.History(ctx, r.Id)
	out := make(api.GetHistory200JSONResponse, len(events))
	for i, e := range events {
		out[i] = api.HistoryEntry{At: e.At, By: e.By, What: api.HistoryEntryWhat(e.What), StageId: some(e.StageID), Stage: some(e.Stage), Text: e.Text, TakenIn: takenInOut(e.TakenIn)}
	}
	return out, err
}

// AddStage puts a stage into the line.
func (s *Server) AddStage(ctx context.Context, r api.AddStageRequestObject) (api.AddStageResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	v, err := newStage(*r.Body, "")
	if err != nil {
		return nil, err
	}
	if _, err := s.store.Unit(ctx, r.Id); err != nil {
		return nil, err
	}
	v.UnitID = r.Id
	at := -1
	if r.Body.At != nil {
		at = *r.Body.At
	}
	if _, err := s.store.AddStage(ctx, v, at, p.Name); errors.Is(err, store.ErrInUse) {
		return nil, refuseField("/name", "a unit has at most 40 stages")
	} else if err != nil {
		return nil, err
	}
	out, err := s.loadUnit(ctx, r.Id)
	return api.AddStage201JSONResponse(out), err
}

// RemoveStage takes an empty stage out of the line.
func (s *Server) RemoveStage(ctx context.Context, r api.RemoveStageRequestObject) (api.RemoveStageResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	v, err := s.store.Stage(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	if err := s.store.RemoveStage(ctx, v, p.Name); errors.Is(err, store.ErrInUse) {
		return nil, refuse(409, "The stage has readings", "Readings are kept for good, so this stage stays in the line.")
	} else if err != nil {
		return nil, err
	}
	return api.RemoveStage204Response{}, nil
}

func (s *Server) record(ctx context.Context, v store.Stage) (api.StageRecord, error) {
	u, err := s.store.Unit(ctx, v.UnitID)
	if err != nil {
		return api.StageRecord{}, err
	}
	out := api.StageRecord{Id: v.ID, UnitId: v.UnitID, UnitName: u.Name, Name: v.Name, Question: stageOut(kept(v)), Readings: []api.KeptReading{}}
	rows, err := s.store.Readings(ctx, v.ID)
	if err != nil {
		return out, err
	}
	for _, row := range rows {
		var r api.Reading
		if err := json.Unmarshal(row.Data, &r); err != nil {
			return out, fmt.Errorf("reading %d: %w", row.ID, err)
		}
		out.Readings = append(out.Readings, api.KeptReading{
			Id: row.ID, Reading: r, Summary: readingIn(r).Summary(), By: row.By, At: row.At, Note: some(row.Note), Blind: some(row.Blind), Struck: struckOut(row.Struck), TakenIn: takenInOut(row.TakenIn),
		})
	}
	return out, nil
}

func takenInOut(x *store.TakenIn) *api.TakenIn {
	if x == nil {
		return nil
	}
	return &api.TakenIn{By: x.By, At: x.At}
}

func struckOut(k *store.Strike) *api.KeptStrike {
	if k == nil {
		return nil
	}
	return &api.KeptStrike{By: k.By, At: k.At, Reason: k.Reason}
}

// GetStage returns a stage with its readings.
func (s *Server) GetStage(ctx context.Context, r api.GetStageRequestObject) (api.GetStageResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	v, err := s.store.Stage(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out, err := s.record(ctx, v)
	return api.GetStage200JSONResponse(out), err
}

// checkReadings refuses readings that can't be; at gives the path of the i-th
// reading in the request.
func (s *Server) checkReadings(st identify.Stage, readings []api.Reading, at func(i int) string) error {
	sp, err := s.knowing.space(st)
	if err != nil {
		return err
	}
	for i, r := range readings {
		if err := identify.CheckReading(sp, readingIn(r)); err != nil {
			var e *identify.Error
			if errors.As(err, &e) {
				return refuseField(at(i)+"/"+e.Field, e.Message)
			}
			return err
		}
	}
	return nil
}

func newRow(r api.Reading, by string) (store.Reading, error) {
	data, err := readingJSON(r)
	return store.Reading{Method: string(r.Method), Data: data, By: by, Text: readingIn(r).Summary()}, err
}

// AddReadings appends readings to a stage.
func (s *Server) AddReadings(ctx context.Context, r api.AddReadingsRequestObject) (api.AddReadingsResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	v, err := s.store.Stage(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	var readings []api.Reading
	var rows []store.Reading
	for _, n := range r.Body.Readings {
		row, err := newRow(n.Reading, p.Name)
		if err != nil {
			return nil, err
		}
		row.Note, row.Blind, row.Key = deref(n.Note), deref(n.Blind), deref(n.Key)
		readings, rows = append(readings, n.Reading), append(rows, row)
	}
	if err := s.checkReadings(kept(v), readings, func(i int) string { return fmt.Sprintf("/readings/%d/reading", i) }); err != nil {
		return nil, err
	}
	err = s.store.AddReadings(ctx, v, rows, identify.MaxReadings)
	var used *store.KeyError
	switch {
	case errors.Is(err, store.ErrFull):
		return nil, refuseField("/readings", fmt.Sprintf("a stage holds at most %d standing readings; strike out what doesn't count", identify.MaxReadings))
	case errors.As(err, &used):
		return nil, refuse(409, "Another reading has this key", fmt.Sprintf("The key %q was sent with another reading before; that one is kept. Send this one under a key of its own.", used.Key))
	case err != nil:
		return nil, err
	}
	out, err := s.record(ctx, v)
	return api.AddReadings201JSONResponse(out), err
}

// StrikeReading strikes a reading out; it stays on record.
func (s *Server) StrikeReading(ctx context.Context, r api.StrikeReadingRequestObject) (api.StrikeReadingResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	row, err := s.store.Reading(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	v, err := s.store.Stage(ctx, row.StageID)
	if err != nil {
		return nil, err
	}
	var x api.Reading
	if err := json.Unmarshal(row.Data, &x); err != nil {
		return nil, err
	}
	err = s.store.Strike(ctx, v, row.ID, store.Strike{By: p.Name, Reason: strings.TrimSpace(r.Body.Reason)}, readingIn(x).Summary())
	if errors.Is(err, store.ErrStruck) {
		return nil, refuse(409, "Struck out already", "Someone struck this reading out before.")
	}
	if err != nil {
		return nil, err
	}
	out, err := s.record(ctx, v)
	return api.StrikeReading200JSONResponse(out), err
}

const documentFormat = api.ZorvelUnit1

// ExportUnit gives the unit as an open document.
func (s *Server) ExportUnit(ctx context.Context, r api.ExportUnitRequestObject) (api.ExportUnitResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	u, err := s.store.Unit(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	doc := api.UnitDocument{Format: documentFormat, Name: u.Name, Kind: api.UnitKind(u.Kind), Notes: some(u.Notes), Stages: []api.DocumentStage{}}
	for _, v := range u.Stages {
		rec, err := s.record(ctx, v)
		if err != nil {
			return nil, err
		}
		d := api.DocumentStage{Name: v.Name, Question: rec.Question, Readings: []api.DocumentReading{}}
		for _, k := range rec.Readings {
			d.Readings = append(d.Readings, api.DocumentReading{Reading: k.Reading, By: k.By, At: k.At, Note: k.Note, Blind: k.Blind, Struck: k.Struck})
		}
		doc.Stages = append(doc.Stages, d)
	}
	if doc.Driveline, err = s.exportDriveline(ctx, u); err != nil {
		return nil, err
	}
	if doc.Decisions, err = s.exportDecisions(ctx, u.ID); err != nil {
		return nil, err
	}
	return api.ExportUnit200JSONResponse(doc), nil
}

// ImportUnit takes a unit document in, all or nothing.
func (s *Server) ImportUnit(ctx context.Context, r api.ImportUnitRequestObject) (api.ImportUnitResponseObject, error) {
	p, err := writer(ctx)
	if err != nil {
		return nil, err
	}
	id, err := s.Take(ctx, *r.Body, p.Name, "Taken in from a document: what is dated before this, and by whom, is as the document says")
	if err != nil {
		return nil, err
	}
	out, err := s.loadUnit(ctx, id)
	return api.ImportUnit201JSONResponse(out), err
}

// oldest and newest bound what a document may be dated.
var oldest = time.Date(1970, 1, 1, 0, 0, 0, 0, time.UTC)

func checkDate(at time.Time, field string) error {
	if newest := time.Now().Add(24 * time.Hour); at.Before(oldest) || at.After(newest) {
		return refuseField(field, "a date from 1970 to today is expected")
	}
	return nil
}

// checkDates looks at every date of a document.
func checkDates(doc api.UnitDocument) error {
	for i, d := range doc.Stages {
		for j, x := range d.Readings {
			at := fmt.Sprintf("/stages/%d/readings/%d", i, j)
			if err := checkDate(x.At, at+"/at"); err != nil {
				return err
			}
			if x.Struck != nil {
				if err := checkDate(x.Struck.At, at+"/struck/at"); err != nil {
					return err
				}
			}
		}
	}
	for i, d := range deref(doc.Decisions) {
		if err := checkDate(d.At, fmt.Sprintf("/decisions/%d/at", i)); err != nil {
			return err
		}
	}
	return nil
}

// Take stores a unit document, all or nothing, and returns the unit's number.
// told is the history's line on it; none if empty.
func (s *Server) Take(ctx context.Context, doc api.UnitDocument, by, told string) (int64, error) {
	if err := checkDates(doc); err != nil {
		return 0, err
	}
	var line []store.Kept
	for i, d := range doc.Stages {
		at := fmt.Sprintf("/stages/%d", i)
		v, err := newStage(api.NewStage{Name: d.Name, Question: d.Question}, at)
		if err != nil {
			return 0, err
		}
		k := store.Kept{Stage: v}
		var readings []api.Reading
		for _, x := range d.Readings {
			row, err := newRow(x.Reading, x.By)
			if err != nil {
				return 0, err
			}
			row.At, row.Note, row.Blind = x.At.UTC(), deref(x.Note), deref(x.Blind)
			if x.Struck != nil {
				row.Struck = &store.Strike{By: x.Struck.By, At: x.Struck.At.UTC(), Reason: x.Struck.Reason}
			}
			readings, k.Readings = append(readings, x.Reading), append(k.Readings, row)
		}
		if err := s.checkReadings(kept(v), readings, func(j int) string { return fmt.Sprintf("%s/readings/%d/reading", at, j) }); err != nil {
			return 0, err
		}
		line = append(line, k)
	}
	driveline, err := importDriveline(doc.Driveline, len(line))
	if err != nil {
		return 0, err
	}
	return s.store.ImportUnit(ctx, store.Import{
		Unit: store.Unit{Name: strings.TrimSpace(doc.Name), Kind: string(doc.Kind), Notes: deref(doc.Notes)},
		Line: line, By: by, Driveline: driveline, Decisions: importDecisions(doc.Decisions), Told: told,
	})
}
