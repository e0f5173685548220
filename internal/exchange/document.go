package exchange

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/identify/bench"
	"zorvel/core/workcard"
	"zorvel/internal/httpd"
	"zorvel/internal/index"
	"zorvel/internal/problem"
	"zorvel/internal/rooms/units"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// A unit leaves and comes back as an open document, zorvel-unit-2: its
// driveline, what was fitted when, and the readings of each ratio of a part.
// zorvel-unit-1 had a line of stages in the place of that.

// unitExported is what the owner reads of a unit that left.
const unitExported = "unit exported"

// ExportUnit gives the unit as an open document.
func (s *Room) ExportUnit(ctx context.Context, r api.ExportUnitRequestObject) (api.ExportUnitResponseObject, error) {
	doc, _, err := s.document(ctx, r.Id)
	if err == nil {
		signin.Note(ctx, s.store, unitExported, doc.Name)
	}
	return api.ExportUnit200JSONResponse(doc), err
}

// places says where in a document a reading, a line of a job, a job and the run
// of a card stand, from 1.
type places struct {
	readings, work map[int64][2]int
	jobs, runs     map[int64]int
}

// document is everything of a unit but its photos and recordings.
func (s *Room) document(ctx context.Context, id int64) (doc api.UnitDocument, at places, err error) {
	at = places{readings: map[int64][2]int{}, work: map[int64][2]int{}, jobs: map[int64]int{}, runs: map[int64]int{}}
	u, err := s.store.Unit(ctx, id)
	if err != nil {
		return doc, at, err
	}
	doc = api.UnitDocument{Format: api.ZorvelUnit2, Name: u.Name, Kind: api.UnitKind(u.Kind), Notes: api.Some(u.Notes)}
	if doc.Driveline, err = s.exportDriveline(ctx, u.ID); err != nil {
		return doc, at, err
	}
	fittings, err := s.store.Fittings(ctx, u.ID)
	if err != nil {
		return doc, at, err
	}
	place := map[int64]int{}
	var fitted []api.DocumentFitting
	for i, f := range fittings {
		place[f.ID] = i + 1
		was, err := units.KeptPart(f.Former)
		if err != nil {
			return doc, at, err
		}
		fitted = append(fitted, api.DocumentFitting{Part: f.Part, What: api.FittingWhat(f.What), Note: api.Some(f.Note),
			By: f.By, At: f.At, Former: was})
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
			return doc, at, err
		}
		m := api.DocumentMeasured{Part: v.Part, Ratio: v.Ratio, Name: v.Name, Question: index.Kept(v), Readings: []api.DocumentReading{}}
		for _, row := range rows {
			k, err := units.ReadingOut(row)
			if err != nil {
				return doc, at, err
			}
			at.readings[row.ID] = [2]int{len(measured) + 1, len(m.Readings) + 1}
			m.Readings = append(m.Readings, api.DocumentReading{Reading: k.Reading, By: k.By, At: k.At, Note: k.Note,
				Blind: k.Blind, Struck: k.Struck, Fitting: api.Some(place[row.Fitting])})
		}
		measured = append(measured, m)
	}
	if measured != nil {
		doc.Measured = &measured
	}
	if doc.Decisions, err = s.exportDecisions(ctx, u.ID); err != nil {
		return doc, at, err
	}
	if u.Archived != nil {
		doc.Archived = &api.Archived{By: u.Away, At: *u.Archived}
	}
	if err := s.exportJobs(ctx, u.ID, &doc, at); err != nil {
		return doc, at, err
	}
	return doc, at, s.exportCards(ctx, u.ID, &doc, at)
}

// exportCards puts the work cards of a unit into its document, oldest first.
func (s *Room) exportCards(ctx context.Context, unit int64, doc *api.UnitDocument, at places) error {
	runs, err := s.store.CardRuns(ctx, unit)
	if err != nil || len(runs) == 0 {
		return err
	}
	slices.Reverse(runs)
	cards := make([]api.DocumentCard, len(runs))
	for i, r := range runs {
		if r, err = s.store.CardRun(ctx, r.ID); err != nil {
			return err
		}
		at.runs[r.ID] = i + 1
		cards[i] = api.DocumentCard{Card: r.Run.Card, Version: r.Run.Version, Part: api.Some(r.Run.Part),
			Answers: api.List(r.Run.Answers), Entries: api.List(r.Run.Entries), By: r.By, At: r.At,
			ClosedBy: api.Some(r.ClosedBy), ClosedAt: r.ClosedAt}
	}
	doc.Cards = &cards
	return nil
}

// importCards reads the work cards of a document.
func importCards(in *store.Import, doc api.UnitDocument) error {
	for i, c := range api.Value(doc.Cards) {
		at := fmt.Sprintf("/cards/%d", i)
		if err := c.Card.Check(); err != nil {
			return fault.Under(at[1:]+"/card", err)
		}
		if err := workcard.Begin(c.Card, c.Answers); err != nil {
			return fault.Under(at[1:], err)
		}
		if (c.ClosedAt != nil) != (c.ClosedBy != nil) {
			return problem.Field(at+"/closed_by", "a card that is closed has who closed it and when; no other has")
		}
		dates := map[string]time.Time{"/at": c.At}
		if c.ClosedAt != nil {
			dates["/closed_at"] = c.ClosedAt.UTC()
		}
		for k, e := range c.Entries {
			dates[fmt.Sprintf("/entries/%d/at", k)] = e.At
			if e.Kind != workcard.Settled && !slices.ContainsFunc(c.Card.Steps, func(x workcard.Step) bool { return x.ID == e.Step }) {
				return problem.Field(fmt.Sprintf("%s/entries/%d/step", at, k), "the card has no such step")
			}
			c.Entries[k].At = e.At.UTC()
		}
		for field, day := range dates {
			if err := checkDate(day, at+field); err != nil {
				return err
			}
		}
		r := store.CardRun{Run: workcard.Run{Card: c.Card, Version: c.Version, Part: api.Value(c.Part),
			Answers: api.List(c.Answers), Entries: c.Entries}, By: c.By, At: c.At.UTC(), ClosedBy: api.Value(c.ClosedBy)}
		if c.ClosedAt != nil {
			closed := c.ClosedAt.UTC()
			r.ClosedAt = &closed
		}
		in.Cards = append(in.Cards, r)
	}
	return nil
}

// takenInTold is the history's line on a document.
const takenInTold = "Imported: what is dated before this, and by whom, is as the document says"

// ImportUnit takes a unit document in, all or nothing.
func (s *Room) ImportUnit(ctx context.Context, r api.ImportUnitRequestObject) (api.ImportUnitResponseObject, error) {
	p := signin.Person(ctx)
	if r.Body.Photos != nil {
		return nil, problem.Field("/photos", "the pictures are in the archive that this document comes from: import that .zip")
	}
	if r.Body.Recordings != nil {
		return nil, problem.Field("/recordings", "the sounds are in the archive that this document comes from: import that .zip")
	}
	id, err := s.Take(ctx, *r.Body, p.Name, takenInTold)
	if err != nil {
		return nil, err
	}
	out, err := s.units.Load(ctx, id)
	return api.ImportUnit201JSONResponse(out), err
}

// oldest bounds what a document may be dated.
var oldest = time.Date(1970, 1, 1, 0, 0, 0, 0, time.UTC)

func checkDate(at time.Time, field string) error {
	if newest := time.Now().Add(24 * time.Hour); at.Before(oldest) || at.After(newest) {
		return problem.Field(field, "a date from 1970 to today is expected")
	}
	return nil
}

// Take stores a unit document, all or nothing, and returns the unit's number.
// told is the history's line on it; without, its entries aren't marked as taken
// in.
func (s *Room) Take(ctx context.Context, doc api.UnitDocument, by, told string) (int64, error) {
	in, err := s.read(doc, by, told)
	if err != nil {
		return 0, err
	}
	return s.store.ImportUnit(ctx, in)
}

// read judges a document, but for its photos and recordings.
func (s *Room) read(doc api.UnitDocument, by, told string) (store.Import, error) {
	in := store.Import{Unit: store.Unit{Name: strings.TrimSpace(doc.Name), Kind: string(doc.Kind),
		Notes: api.Value(doc.Notes)}, By: by, Told: told}
	var err error
	if doc.Format == api.ZorvelUnit1 {
		err = s.takeLine(&in, doc)
	} else {
		err = s.takeMeasured(&in, doc)
	}
	if err != nil {
		return in, err
	}
	for i, d := range api.Value(doc.Decisions) {
		at := fmt.Sprintf("/decisions/%d", i)
		if err := checkDate(d.At, at+"/at"); err != nil {
			return in, err
		}
		if err := httpd.Shallow(d.Question, at+"/question"); err != nil {
			return in, err
		}
		if err := httpd.Shallow(d.Answer, at+"/answer"); err != nil {
			return in, err
		}
	}
	in.Decisions = importDecisions(doc.Decisions)
	if doc.Archived != nil && slices.ContainsFunc(api.Value(doc.Jobs), func(j api.DocumentJob) bool { return j.ClosedAt == nil }) {
		return in, problem.Field("/archived", "a unit with an open job can't be in the archive; close the job or leave this out")
	}
	if x := doc.Archived; x != nil {
		if err := checkDate(x.At, "/archived/at"); err != nil {
			return in, err
		}
		at := x.At.UTC()
		in.Unit.Archived, in.Unit.Away = &at, x.By
	}
	if err := importJobs(&in, doc); err != nil {
		return in, err
	}
	return in, importCards(&in, doc)
}

// takeMeasured reads what zorvel-unit-2 holds.
func (s *Room) takeMeasured(in *store.Import, doc api.UnitDocument) error {
	if doc.Stages != nil {
		return problem.Field("/stages", "zorvel-unit-2 has none: its readings are under measured")
	}
	if doc.Driveline == nil {
		return problem.Field("/driveline", "a unit has a driveline")
	}
	d := &doc.Driveline.Document
	if err := d.Check(); err != nil {
		return fault.Under("driveline/document", err)
	}
	if err := s.keepable(in, d, doc.Driveline.States); err != nil {
		return err
	}
	for i, f := range api.Value(doc.Fittings) {
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
		in.Fittings = append(in.Fittings, store.Fitting{Part: f.Part, What: string(f.What), Note: api.Value(f.Note),
			Former: was, By: f.By, At: f.At.UTC()})
	}
	seen := map[driveline.Place]bool{}
	for i, m := range api.Value(doc.Measured) {
		at := fmt.Sprintf("/measured/%d", i)
		if x := (driveline.Place{Part: m.Part, Ratio: m.Ratio}); seen[x] {
			return problem.Field(at+"/ratio", "this ratio is in the file already")
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
func (s *Room) takeLine(in *store.Import, doc api.UnitDocument) error {
	if doc.Measured != nil || doc.Fittings != nil {
		return problem.Field("/format", "measured and fittings belong in zorvel-unit-2")
	}
	var line []driveline.Former
	for i, d := range api.Value(doc.Stages) {
		k, err := s.takeReadings(d.Question, d.Readings, 0, fmt.Sprintf("/stages/%d", i))
		if err != nil {
			return err
		}
		f := units.Former(strings.TrimSpace(d.Name), index.Kept(k.Stage))
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
					return fault.New("driveline/document/parts/"+strconv.Itoa(i)+"/sources/"+name+"/stage",
						"the place of a stage in this document, from 1 to %d", len(line))
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

func (s *Room) keepable(in *store.Import, d *driveline.Document, states *[]api.SavedState) error {
	if err := units.Askable(d); err != nil {
		return fault.Under("driveline/document", err)
	}
	row, err := units.DrivelineRow(d, api.Value(states), "driveline/states")
	if err != nil {
		return err
	}
	in.Driveline = *row
	return nil
}

// takeReadings checks the readings of one ratio; at is their path.
func (s *Room) takeReadings(q api.StageQuestion, list []api.DocumentReading, fittings int, at string) (store.Kept, error) {
	st := q
	if err := bench.Check(st); err != nil {
		return store.Kept{}, fault.Under(at[1:]+"/question", err)
	}
	k := store.Kept{Stage: store.Stage{Kind: string(st.Kind), Position: st.Position, Held: string(st.Held), Input: string(st.Input)}}
	readings := make([]api.Reading, len(list))
	for j, x := range list {
		here := fmt.Sprintf("%s/readings/%d", at, j)
		if err := checkDate(x.At, here+"/at"); err != nil {
			return k, err
		}
		row, err := units.NewRow(x.Reading, x.By)
		if err != nil {
			return k, err
		}
		row.At, row.Note, row.Blind, row.Fitting = x.At.UTC(), api.Value(x.Note), api.Value(x.Blind), int64(api.Value(x.Fitting))
		if row.Fitting > int64(fittings) {
			return k, problem.Field(here+"/fitting", fmt.Sprintf("the place of one of the document's %d fittings", fittings))
		}
		if x.Struck != nil {
			if err := checkDate(x.Struck.At, here+"/struck/at"); err != nil {
				return k, err
			}
			row.Struck = &store.Strike{By: x.Struck.By, At: x.Struck.At.UTC(), Reason: x.Struck.Reason}
		}
		readings[j], k.Readings = x.Reading, append(k.Readings, row)
	}
	return k, s.units.CheckReadings(st, readings, func(j int) string { return fmt.Sprintf("%s/readings/%d/reading", at, j) })
}
