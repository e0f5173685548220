package units

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"strconv"
	"strings"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/identify"
	"zorvel/internal/index"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// Fill puts what was measured into a unit's driveline: the one place where the
// state of a ratio comes from.
func (s *Room) Fill(ctx context.Context, doc *driveline.Document, u store.Unit) error {
	sh, err := s.index.Shop(ctx)
	if err != nil {
		return err
	}
	for _, v := range u.Stages {
		p := doc.Part(v.Part)
		if p == nil || !v.Present {
			continue
		}
		x, err := s.index.Summarize(ctx, sh, v)
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if err != nil { // told at the stage; the figures stay as they are
			x = index.Summary{State: identify.Unknown}
		}
		m := driveline.Measured{Stage: v.ID, State: string(x.State), Teeth: map[string]int{}}
		if b := x.Build; b != nil {
			m.Construction = b.Construction
			m.Ratio = b.Ratio
			for _, t := range b.Teeth {
				m.Teeth[t.Member] = t.Count
			}
		}
		if x.Label != nil {
			m.Probability = x.Label.Probability
		}
		p.Take(v.Ratio, m)
	}
	return nil
}

// fittingOut tells a fitting; what was fitted, and when, is known also where the
// former part can't be read.
func fittingOut(f store.Fitting) api.Fitting {
	was, err := KeptPart(f.Former)
	if err != nil {
		was = driveline.Part{}
	}
	return api.Fitting{Id: f.ID, Part: f.Part, What: api.FittingWhat(f.What), Note: f.Note, By: f.By, At: f.At,
		Former: was, TakenIn: TakenInOut(f.TakenIn)}
}

// KeptPart reads a part as it was kept, with what was known of it.
func KeptPart(raw json.RawMessage) (p driveline.Part, err error) {
	return p, store.Read("a part on record", raw, &p)
}

// LoadDriveline is the newest driveline with what was measured filled in.
func (s *Room) LoadDriveline(ctx context.Context, id int64) (api.UnitDriveline, error) {
	out := api.UnitDriveline{States: []api.SavedState{}, Fittings: []api.Fitting{}}
	u, err := s.store.Unit(ctx, id)
	if err != nil {
		return out, err
	}
	d, doc, err := s.DrivelineOf(ctx, id)
	if err != nil {
		return out, err
	}
	if err := s.Fill(ctx, doc, u); err != nil {
		return out, err
	}
	fittings, err := s.store.Fittings(ctx, id)
	if err != nil {
		return out, err
	}
	for _, f := range fittings {
		out.Fittings = append(out.Fittings, fittingOut(f))
	}
	out.Document = *doc
	out.Version, out.By, out.At = d.Version, d.By, d.At
	if json.Unmarshal(d.States, &out.States) != nil {
		out.States = []api.SavedState{} // every version stays on record
	}
	return out, nil
}

// DrivelineOf is the newest driveline as it was kept.
func (s *Room) DrivelineOf(ctx context.Context, unit int64) (store.Driveline, *driveline.Document, error) {
	d, err := s.store.Driveline(ctx, unit)
	if err != nil {
		return d, nil, err
	}
	doc, err := driveline.Parse(d.Document)
	if err != nil {
		return d, nil, store.Damaged("the driveline on record", err)
	}
	return d, doc, nil
}

// GetDriveline returns a unit's driveline.
func (s *Room) GetDriveline(ctx context.Context, r api.GetDrivelineRequestObject) (api.GetDrivelineResponseObject, error) {
	out, err := s.LoadDriveline(ctx, r.Id)
	return api.GetDriveline200JSONResponse(out), err
}

var errDrivelineChanged = problem.New(http.StatusConflict, "Changed meanwhile",
	"Someone else saved a newer version of this driveline. Yours is still on this page; load theirs and make your "+
		"change again.")

// mostAsks bounds the ratios of one driveline that can be measured.
const mostAsks = 400

func Askable(doc *driveline.Document) error {
	if n := len(doc.Asks()); n > mostAsks {
		return fault.New("parts", "at most %d ratios that can be measured; these parts have %d", mostAsks, n)
	}
	return nil
}

// KeepDriveline keeps a new version.
func (s *Room) KeepDriveline(ctx context.Context, r api.KeepDrivelineRequestObject) (api.KeepDrivelineResponseObject, error) {
	p := signin.Person(ctx)
	doc := &r.Body.Document
	err := doc.Check()
	if err == nil {
		err = Askable(doc)
	}
	if err != nil {
		return nil, fault.Under("document", err)
	}
	d, err := DrivelineRow(doc, api.Value(r.Body.States), "states")
	if err != nil {
		return nil, err
	}
	d.UnitID, d.Version, d.By, d.Note = r.Id, r.Body.Base, p.Name, strings.TrimSpace(api.Value(r.Body.Note))
	text := "Driveline changed"
	if d.Note != "" {
		text += ": " + d.Note
	}
	if err := s.store.KeepDriveline(ctx, *d, text); errors.Is(err, store.ErrChanged) {
		return nil, errDrivelineChanged
	} else if err != nil {
		return nil, err
	}
	out, err := s.LoadDriveline(ctx, r.Id)
	return api.KeepDriveline200JSONResponse(out), err
}

// Fit records that another part was fitted, or other gears in its housing.
func (s *Room) Fit(ctx context.Context, r api.FitRequestObject) (api.FitResponseObject, error) {
	who := signin.Person(ctx)
	u, err := s.store.Unit(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	d, doc, err := s.DrivelineOf(ctx, u.ID)
	if err != nil {
		return nil, err
	}
	if d.Version != r.Body.Base {
		return nil, errDrivelineChanged
	}
	p := doc.Part(r.Body.Part)
	if p == nil {
		return nil, problem.Field("/part", "the driveline has no such part")
	}
	if len(p.Asks()) == 0 {
		return nil, problem.Field("/part",
			"the "+strings.ToLower(p.Called())+" has no ratio that could have been measured; change it where the driveline "+
				"is built")
	}
	// What is known of it as it comes out stays with it.
	if err := s.Fill(ctx, doc, u); err != nil {
		return nil, err
	}
	was, err := json.Marshal(p)
	if err != nil {
		return nil, err
	}
	next, err := fitted(*p, r.Body.Fitted)
	if err != nil {
		return nil, err
	}
	// The other parts are kept as they were.
	_, doc, err = s.DrivelineOf(ctx, u.ID)
	if err != nil {
		return nil, err
	}
	*doc.Part(p.ID) = next
	if err := doc.Check(); err != nil {
		return nil, problem.Field("/fitted", "the driveline doesn't allow it: "+err.Error())
	}
	var states []api.SavedState
	if err := store.Read("the saved positions on record", d.States, &states); err != nil {
		return nil, err
	}
	row, err := DrivelineRow(doc, states, "states")
	if err != nil {
		return nil, err
	}
	row.UnitID, row.Version, row.By = u.ID, d.Version, who.Name
	f := store.Fitting{UnitID: u.ID, Part: p.ID, What: string(r.Body.What),
		Note: strings.TrimSpace(api.Value(r.Body.Note)), Former: was, By: who.Name}
	if err := s.store.Fit(ctx, f, *row); errors.Is(err, store.ErrChanged) {
		return nil, errDrivelineChanged
	} else if errors.Is(err, store.ErrFull) {
		return nil, problem.Field("/part", "this unit has as many fittings on record as fit")
	} else if err != nil {
		return nil, err
	}
	out, err := s.LoadDriveline(ctx, u.ID)
	return api.Fit201JSONResponse(out), err
}

// fitted is a part in the place of another: one of the shop's, or one of the
// same build of which nothing is known.
func fitted(was driveline.Part, p *driveline.Part) (driveline.Part, error) {
	next := was.Blank()
	if p == nil {
		return next, nil
	}
	if err := p.Loose(); err != nil {
		return next, fault.Under("fitted", err)
	}
	if p.Kind != was.Kind {
		return next, problem.Field("/fitted/kind", "a "+strings.ReplaceAll(was.Kind, "_", " ")+" is expected in this place")
	}
	p.ID, p.Name, p.From, p.Mounting = was.ID, was.Name, was.From, was.Mounting
	p.Plate(strings.TrimSpace(p.Name))
	return *p, nil
}

// DrivelineRow checks saved states against the document and makes the row.
func DrivelineRow(doc *driveline.Document, states []api.SavedState, field string) (*store.Driveline, error) {
	seen := map[string]bool{}
	for i, x := range states {
		at := field + "/" + strconv.Itoa(i)
		if seen[strings.TrimSpace(x.Name)] {
			return nil, fault.New(at+"/name", "there is a saved state %q already", x.Name)
		}
		seen[strings.TrimSpace(x.Name)] = true
	}
	if states == nil {
		states = []api.SavedState{}
	}
	doc.Untie()
	d, err := json.Marshal(doc)
	if err != nil {
		return nil, err
	}
	st, err := json.Marshal(states)
	if err != nil {
		return nil, err
	}
	return &store.Driveline{Document: d, States: st}, nil
}
