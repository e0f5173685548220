package units

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	lru "github.com/hashicorp/golang-lru/v2"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/core/identify/bench"
	"zorvel/internal/index"
	"zorvel/internal/keyed"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

func (s *Room) Out(ctx context.Context, sh index.Shop, u store.Unit) (api.Unit, error) {
	out := api.Unit{Id: u.ID, Name: u.Name, Kind: api.UnitKind(u.Kind), Notes: u.Notes, ChangedAt: u.ChangedAt, Version: u.Version, Stages: []api.StageSummary{}}
	if u.Archived != nil {
		out.Archived = &api.Archived{By: u.Away, At: *u.Archived}
	}
	for _, v := range u.Stages {
		x, err := s.index.Summarize(ctx, sh, v)
		if ctx.Err() != nil {
			return out, ctx.Err()
		}
		// One stage that can't be reckoned never hides the others.
		trouble := ""
		if err != nil {
			s.log.Error("a stage can't be reckoned", "stage", v.ID, "error", err)
			x, trouble = index.Summary{State: identify.Unknown}, "can't be weighed: "+why(err)
		}
		out.Stages = append(out.Stages, api.StageSummary{
			Id: v.ID, Name: v.Name, Part: v.Part, Ratio: v.Ratio, Present: v.Present, Question: index.Kept(v), State: x.State,
			Label: x.Label, Build: x.Build, About: api.Some(x.About), Readings: v.Standing, Trouble: api.Some(trouble),
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

func (s *Room) Load(ctx context.Context, id int64) (api.Unit, error) {
	u, err := s.store.Unit(ctx, id)
	if err != nil {
		return api.Unit{}, err
	}
	sh, err := s.index.Shop(ctx)
	if err != nil {
		return api.Unit{}, err
	}
	made, err := s.index.Recall(ctx, sh, []store.Unit{u})
	if err != nil {
		return api.Unit{}, err
	}
	out, err := s.Out(ctx, sh, u)
	if err != nil {
		return out, err
	}
	s.index.Retain(ctx, made)
	return out, nil
}

// begun is the driveline that a new unit begins with, and what the history
// says of it: a layout with nothing known, one that was drawn, or the part of a
// first count.
func begun(b *api.NewUnit) (*driveline.Document, error) {
	given := 0
	for _, is := range []bool{b.Layout != nil, b.Driveline != nil, b.First != nil} {
		if is {
			given++
		}
	}
	if given != 1 {
		return nil, problem.Field("/layout", "say how its power goes: one of the layouts, a driveline of its own, or what is counted first; just one of them")
	}
	switch {
	case b.Driveline != nil:
		return b.Driveline, fault.Under("driveline", b.Driveline.Check())
	case b.First != nil:
		st := *b.First
		if err := bench.Check(st); err != nil {
			return nil, fault.Under("first", err)
		}
		doc, _ := driveline.Adopt(nil, []driveline.Former{Former(firstName(st), st)})
		return doc, nil
	}
	var known []string
	for _, l := range driveline.Layouts() {
		if l.ID == *b.Layout {
			return &l.Blank, nil
		}
		known = append(known, l.ID)
	}
	return nil, problem.Field("/layout", "one of "+strings.Join(known, ", "))
}

func Former(name string, st identify.Stage) driveline.Former {
	return driveline.Former{Name: name, Kind: string(st.Kind), Position: st.Position, Held: string(st.Held), Input: string(st.Input)}
}

// firstName calls a part after what is counted at it.
func firstName(st identify.Stage) string {
	return map[identify.Kind]string{
		identify.RingAndPinion: "Axle", identify.TwoStage: "Axle", identify.Hub: "Hub", identify.Planetary: "Planetary set", identify.Gearcase: "Gearcase",
		identify.GearPair: "Gear pair", identify.ChainPair: "Chain pair", identify.TransferCase: "Transfer case", identify.Gearbox: "Gearbox",
	}[st.Kind]
}

// AddUnit adds a unit with its driveline.
func (s *Room) AddUnit(ctx context.Context, r api.AddUnitRequestObject) (api.AddUnitResponseObject, error) {
	p := signin.Person(ctx)
	doc, err := begun(r.Body)
	if err != nil {
		return nil, err
	}
	d, err := DrivelineRow(doc, nil, "")
	if err != nil {
		return nil, err
	}
	id, err := s.store.AddUnit(ctx, store.Unit{Name: strings.TrimSpace(r.Body.Name), Kind: string(r.Body.Kind),
		Notes: api.Value(r.Body.Notes)}, *d, p.Name)
	if err != nil {
		return nil, err
	}
	out, err := s.Load(ctx, id)
	return api.AddUnit201JSONResponse(out), err
}

// GetUnit returns one unit.
func (s *Room) GetUnit(ctx context.Context, r api.GetUnitRequestObject) (api.GetUnitResponseObject, error) {
	out, err := s.Load(ctx, r.Id)
	return api.GetUnit200JSONResponse(out), err
}

var errUnitChanged = problem.New(409, "Changed by someone else", "Someone changed this unit meanwhile. Look at it again before you change it; what you typed is still here.")

// ChangeUnit changes a unit's name, kind or notes.
func (s *Room) ChangeUnit(ctx context.Context, r api.ChangeUnitRequestObject) (api.ChangeUnitResponseObject, error) {
	p := signin.Person(ctx)
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
	out, err := s.Load(ctx, r.Id)
	return api.ChangeUnit200JSONResponse(out), err
}

// GetHistory lists what happened to a unit.
func (s *Room) GetHistory(ctx context.Context, r api.GetHistoryRequestObject) (api.GetHistoryResponseObject, error) {
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	events, err := s.store.History(ctx, r.Id, api.Value(r.Params.Before))
	out := make(api.GetHistory200JSONResponse, len(events))
	for i, e := range events {
		out[i] = entryOut(e)
	}
	return out, err
}

func entryOut(e store.Event) api.HistoryEntry {
	return api.HistoryEntry{Id: e.ID, At: e.At, By: e.By, What: api.HistoryEntryWhat(e.What),
		StageId: api.Some(e.StageID), Stage: api.Some(e.Stage), Text: e.Text, TakenIn: TakenInOut(e.TakenIn)}
}

// ArchiveUnit puts a unit away or takes it back.
func (s *Room) ArchiveUnit(ctx context.Context, r api.ArchiveUnitRequestObject) (api.ArchiveUnitResponseObject, error) {
	p := signin.Person(ctx)
	switch err := s.store.ArchiveUnit(ctx, r.Id, r.Body.Archived, p.Name); {
	case errors.Is(err, store.ErrInUse):
		return nil, problem.New(409, "A job is open", "A job of this unit is still open. Close it first: what is archived is not on the board.")
	case err != nil:
		return nil, err
	}
	out, err := s.Load(ctx, r.Id)
	return api.ArchiveUnit200JSONResponse(out), err
}

func (s *Room) record(ctx context.Context, v store.Stage) (api.StageRecord, error) {
	unit, err := s.store.UnitName(ctx, v.UnitID)
	if err != nil {
		return api.StageRecord{}, err
	}
	out := api.StageRecord{Id: v.ID, UnitId: v.UnitID, UnitName: unit, Name: v.Name, Part: v.Part, Ratio: v.Ratio,
		Present: v.Present, Since: v.Since, Question: index.Kept(v), Readings: []api.KeptReading{}}
	if v.Since != 0 {
		list, err := s.store.Fittings(ctx, v.UnitID)
		if err != nil {
			return out, err
		}
		for _, f := range list {
			if f.ID == v.Since {
				x := fittingOut(f)
				out.Fitted = &x
			}
		}
	}
	rows, err := s.store.Readings(ctx, v.ID)
	if err != nil {
		return out, err
	}
	for _, row := range rows {
		k, err := ReadingOut(row)
		if err != nil { // it stays in its place, with who took it and when
			k = api.KeptReading{
				Id: row.ID, Reading: api.Reading{Method: identify.Method(row.Method)}, Summary: "can't be read",
				By: row.By, At: row.At, Note: api.Some(row.Note), Struck: struckOut(row.Struck),
			}
		}
		k.Former = api.Some(row.Fitting != v.Since)
		out.Readings = append(out.Readings, k)
	}
	return out, nil
}

// told is a reading as it was kept, with the sentence for it.
type told struct {
	reading api.Reading
	summary string
}

// readings are those that were shown last, by their text: a sheet of fifty is shown again and
// again, and a turn to 4.1 is the same reading wherever it was taken. Nobody changes them.
var readings = newReadings(10_000)

func newReadings(most int) *lru.Cache[string, told] {
	c, err := lru.New[string, told](most)
	if err != nil { // only a size below one fails
		panic(err)
	}
	return c
}

// longestCached bounds what of them is known: longer ones are read anew.
const longestCached = 4000

func readingTold(data []byte) (told, error) {
	if x, ok := readings.Get(string(data)); ok {
		return x, nil
	}
	var x told
	if err := json.Unmarshal(data, &x.reading); err != nil {
		return x, err
	}
	x.summary = x.reading.Summary()
	if len(data) <= longestCached {
		readings.Add(string(data), x)
	}
	return x, nil
}

// ReadingOut is a kept reading as it is shown.
func ReadingOut(row store.Reading) (api.KeptReading, error) {
	x, err := readingTold(row.Data)
	if err != nil {
		return api.KeptReading{}, store.Damaged(fmt.Sprintf("reading %d", row.ID), err)
	}
	return api.KeptReading{
		Id: row.ID, Reading: x.reading, Summary: x.summary, By: row.By, At: row.At, Note: api.Some(row.Note),
		Blind: api.Some(row.Blind), Struck: struckOut(row.Struck), TakenIn: TakenInOut(row.TakenIn),
	}, nil
}

func TakenInOut(x *store.TakenIn) *api.TakenIn {
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
func (s *Room) GetStage(ctx context.Context, r api.GetStageRequestObject) (api.GetStageResponseObject, error) {
	v, err := s.store.Stage(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out, err := s.record(ctx, v)
	return api.GetStage200JSONResponse(out), err
}

// CheckReadings refuses readings that can't be; at gives the path of the i-th
// reading in the request.
func (s *Room) CheckReadings(st identify.Stage, readings []api.Reading, at func(i int) string) error {
	sp, err := s.index.Space(st)
	if err != nil {
		return err
	}
	for i, r := range readings {
		if err := identify.CheckReading(sp, r); err != nil {
			var e *identify.Error
			if errors.As(err, &e) {
				return problem.Field(at(i)+"/"+e.Field, e.Message)
			}
			return err
		}
	}
	return nil
}

func NewRow(r api.Reading, by string) (store.Reading, error) {
	data, err := readingJSON(r)
	return store.Reading{Method: string(r.Method), Data: data, By: by, Text: r.Summary()}, err
}

// AddReadings appends readings to a stage.
func (s *Room) AddReadings(ctx context.Context, r api.AddReadingsRequestObject) (api.AddReadingsResponseObject, error) {
	p := signin.Person(ctx)
	v, err := s.store.Stage(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	var readings []api.Reading
	var rows []store.Reading
	for _, n := range r.Body.Readings {
		row, err := NewRow(n.Reading, p.Name)
		if err != nil {
			return nil, err
		}
		row.Note, row.Blind, row.Key = api.Value(n.Note), api.Value(n.Blind), api.Value(n.Key)
		readings, rows = append(readings, n.Reading), append(rows, row)
	}
	if err := s.CheckReadings(index.Kept(v), readings, func(i int) string { return fmt.Sprintf("/readings/%d/reading", i) }); err != nil {
		return nil, err
	}
	if r.Body.Since != nil {
		v.Since = *r.Body.Since
	}
	err = s.store.AddReadings(ctx, v, rows, identify.MaxReadings)
	switch {
	case errors.Is(err, store.ErrChanged):
		return nil, problem.New(409, "Something else is fitted now",
			"Another part or other gears were fitted here since this count. Count what is installed now; your count is "+
				"still on this device.")
	case errors.Is(err, store.ErrFull):
		return nil, problem.Field("/readings",
			fmt.Sprintf("at most %d readings count for one ratio; void the ones that don't", identify.MaxReadings))
	case err != nil:
		return nil, keyed.Refused(err, "reading")
	}
	out, err := s.record(ctx, v)
	return api.AddReadings201JSONResponse(out), err
}

// StrikeReading strikes a reading out; it stays on record.
func (s *Room) StrikeReading(ctx context.Context, r api.StrikeReadingRequestObject) (api.StrikeReadingResponseObject, error) {
	p := signin.Person(ctx)
	row, err := s.store.Reading(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	v, err := s.store.Stage(ctx, row.StageID)
	if err != nil {
		return nil, err
	}
	var x api.Reading
	says := "a reading that can't be read"
	if json.Unmarshal(row.Data, &x) == nil {
		says = x.Summary()
	}
	err = s.store.Strike(ctx, v, row.ID, store.Strike{By: p.Name, Reason: strings.TrimSpace(r.Body.Reason)}, says)
	if errors.Is(err, store.ErrStruck) {
		return nil, problem.New(409, "Already voided", "Someone else voided this reading.")
	}
	if err != nil {
		return nil, err
	}
	out, err := s.record(ctx, v)
	return api.StrikeReading200JSONResponse(out), err
}

// readingJSON is the reading as it is stored: without the request's own id.
func readingJSON(r identify.Reading) (json.RawMessage, error) {
	r.ID = ""
	return json.Marshal(r)
}
