package server

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/internal/store"
)

// A unit leaves and comes back as an open document, zorvel-unit-2: its
// driveline, what was fitted when, and the readings of each ratio of a part.
// zorvel-unit-1 had a line of stages in the place of that.

// ExportUnit gives the unit as an open document.
func (s *Server) ExportUnit(ctx context.Context, r api.ExportUnitRequestObject) (api.ExportUnitResponseObject, error) {
	if _, err := reader(ctx); err != nil {
		return nil, err
	}
	u, err := s.store.Unit(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	doc := api.UnitDocument{Format: api.ZorvelUnit2, Name: u.Name, Kind: api.UnitKind(u.Kind), Notes: some(u.Notes)}
	if doc.Driveline, err = s.exportDriveline(ctx, u.ID); err != nil {
		return nil, err
	}
	fittings, err := s.store.Fittings(ctx, u.ID)
	if err != nil {
		return nil, err
	}
	place := map[int64]int{}
	var fitted []api.DocumentFitting
	for i, f := range fittings {
		place[f.ID] = i + 1
		was, err := keptPart(f.Former)
		if err != nil {
			return nil, fmt.Errorf("fitting %d: %w", f.ID, err)
		}
		fitted = append(fitted, api.DocumentFitting{Part: f.Part, What: api.FittingWhat(f.What), Note: some(f.Note), By: f.By, At: f.At, Former: was})
	}
	if fitted != nil {
		doc.Fittings = &fitted
	}
	var measured []api.DocumentMeasured
	for _, v := range u.Stages {
		if v.Taken == 0 {
			continue
		}
		rows, err := s.store.Readings(ctx, v.ID)
		if err != nil {
			return nil, err
		}
		m := api.DocumentMeasured{Part: v.Part, Ratio: v.Ratio, Name: v.Name, Question: kept(v), Readings: []api.DocumentReading{}}
		for _, row := range rows {
			k, err := readingOut(row)
			if err != nil {
				return nil, err
			}
			m.Readings = append(m.Readings, api.DocumentReading{Reading: k.Reading, By: k.By, At: k.At, Note: k.Note, Blind: k.Blind, Struck: k.Struck, Fitting: some(place[row.Fitting])})
		}
		measured = append(measured, m)
	}
	if measured != nil {
		doc.Measured = &measured
	}
	if doc.Decisions, err = s.exportDecisions(ctx, u.ID); err != nil {
		return nil, err
	}
	if err := s.exportJobs(ctx, u.ID, &doc); err != nil {
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

// oldest bounds what a document may be dated.
var oldest = time.Date(1970, 1, 1, 0, 0, 0, 0, time.UTC)

func checkDate(at time.Time, field string) error {
	if newest := time.Now().Add(24 * time.Hour); at.Before(oldest) || at.After(newest) {
		return refuseField(field, "a date from 1970 to today is expected")
	}
	return nil
}

// Take stores a unit document, all or nothing, and returns the unit's number.
// told is the history's line on it; without, its entries aren't marked as taken
// in.
func (s *Server) Take(ctx context.Context, doc api.UnitDocument, by, told string) (int64, error) {
	in := store.Import{Unit: store.Unit{Name: strings.TrimSpace(doc.Name), Kind: string(doc.Kind), Notes: deref(doc.Notes)}, By: by, Told: told}
	var err error
	if doc.Format == api.ZorvelUnit1 {
		err = s.takeLine(&in, doc)
	} else {
		err = s.takeMeasured(&in, doc)
	}
	if err != nil {
		return 0, err
	}
	for i, d := range deref(doc.Decisions) {
		if err := checkDate(d.At, fmt.Sprintf("/decisions/%d/at", i)); err != nil {
			return 0, err
		}
	}
	in.Decisions = importDecisions(doc.Decisions)
	if err := importJobs(&in, doc); err != nil {
		return 0, err
	}
	return s.store.ImportUnit(ctx, in)
}

// takeMeasured reads what zorvel-unit-2 holds.
func (s *Server) takeMeasured(in *store.Import, doc api.UnitDocument) error {
	if doc.Stages != nil {
		return refuseField("/stages", "zorvel-unit-2 has none: its readings stand under measured")
	}
	if doc.Driveline == nil {
		return refuseField("/driveline", "a unit has a driveline")
	}
	d := &doc.Driveline.Document
	if err := d.Check(); err != nil {
		return fault.Under("driveline/document", err)
	}
	if err := s.keepable(in, d, doc.Driveline.States); err != nil {
		return err
	}
	for i, f := range deref(doc.Fittings) {
		at := fmt.Sprintf("/fittings/%d", i)
		if err := checkDate(f.At, at+"/at"); err != nil {
			return err
		}
		was, err := json.Marshal(f.Former)
		if err != nil {
			return err
		}
		if err := f.Former.Loose(); err != nil {
			return fault.Under(at[1:]+"/former", err)
		}
		in.Fittings = append(in.Fittings, store.Fitting{Part: f.Part, What: string(f.What), Note: deref(f.Note), Former: was, By: f.By, At: f.At.UTC()})
	}
	seen := map[driveline.Place]bool{}
	for i, m := range deref(doc.Measured) {
		at := fmt.Sprintf("/measured/%d", i)
		if x := (driveline.Place{Part: m.Part, Ratio: m.Ratio}); seen[x] {
			return refuseField(at+"/ratio", "this ratio of this part stands in the document already")
		} else {
			seen[x] = true
		}
		k, err := s.takeReadings(m.Question, m.Readings, len(in.Fittings), at)
		if err != nil {
			return err
		}
		k.Stage.Part, k.Stage.Ratio, k.Stage.Name = m.Part, m.Ratio, m.Name
		in.Measured = append(in.Measured, k)
	}
	return nil
}

// takeLine reads what zorvel-unit-1 held: a line of stages, and a driveline
// whose sources name them by their place.
func (s *Server) takeLine(in *store.Import, doc api.UnitDocument) error {
	if doc.Measured != nil || doc.Fittings != nil {
		return refuseField("/format", "measured and fittings stand in zorvel-unit-2")
	}
	var line []driveline.Former
	for i, d := range deref(doc.Stages) {
		k, err := s.takeReadings(d.Question, d.Readings, 0, fmt.Sprintf("/stages/%d", i))
		if err != nil {
			return err
		}
		f := former(strings.TrimSpace(d.Name), kept(k.Stage))
		f.ID = int64(i + 1)
		line, in.Measured = append(line, f), append(in.Measured, k)
	}
	var drawn *driveline.Document
	var states *[]api.SavedState
	if doc.Driveline != nil {
		drawn = &doc.Driveline.Document
		if err := drawn.Check(); err != nil {
			return fault.Under("driveline/document", err)
		}
		states = doc.Driveline.States
		for i, p := range drawn.Parts {
			for name, src := range p.Sources {
				if src.Stage < 0 || src.Stage > int64(len(line)) {
					return fault.New("driveline/document/parts/"+itoa(i)+"/sources/"+name+"/stage", "the place of a stage in this document, from 1 to %d", len(line))
				}
			}
		}
	}
	adopted, places := driveline.Adopt(drawn, line)
	for i, at := range places {
		v := &in.Measured[i].Stage
		v.Part, v.Ratio, v.Name = at.Part, at.Ratio, line[i].Name
	}
	return s.keepable(in, adopted, states)
}

func (s *Server) keepable(in *store.Import, d *driveline.Document, states *[]api.SavedState) error {
	if err := askable(d); err != nil {
		return fault.Under("driveline/document", err)
	}
	row, err := drivelineRow(d, deref(states), "driveline/states")
	if err != nil {
		return err
	}
	in.Driveline = *row
	return nil
}

// takeReadings checks the readings of one ratio; at is their path.
func (s *Server) takeReadings(q api.StageQuestion, list []api.DocumentReading, fittings int, at string) (store.Kept, error) {
	st := q
	if err := checkStage(st, at+"/question"); err != nil {
		return store.Kept{}, err
	}
	k := store.Kept{Stage: store.Stage{Kind: string(st.Kind), Position: st.Position, Held: string(st.Held), Input: string(st.Input)}}
	readings := make([]api.Reading, len(list))
	for j, x := range list {
		here := fmt.Sprintf("%s/readings/%d", at, j)
		if err := checkDate(x.At, here+"/at"); err != nil {
			return k, err
		}
		row, err := newRow(x.Reading, x.By)
		if err != nil {
			return k, err
		}
		row.At, row.Note, row.Blind, row.Fitting = x.At.UTC(), deref(x.Note), deref(x.Blind), int64(deref(x.Fitting))
		if row.Fitting > int64(fittings) {
			return k, refuseField(here+"/fitting", fmt.Sprintf("the place of one of the document's %d fittings", fittings))
		}
		if x.Struck != nil {
			if err := checkDate(x.Struck.At, here+"/struck/at"); err != nil {
				return k, err
			}
			row.Struck = &store.Strike{By: x.Struck.By, At: x.Struck.At.UTC(), Reason: x.Struck.Reason}
		}
		readings[j], k.Readings = x.Reading, append(k.Readings, row)
	}
	return k, s.checkReadings(st, readings, func(j int) string { return fmt.Sprintf("%s/readings/%d/reading", at, j) })
}
