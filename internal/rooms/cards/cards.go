package cards

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/fault"
	"zorvel/core/gearcase"
	"zorvel/core/identify"
	"zorvel/core/say"
	"zorvel/core/setup"
	"zorvel/core/workcard"
	"zorvel/internal/keyed"
	"zorvel/internal/paper"
	"zorvel/internal/problem"
	"zorvel/internal/record"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

var (
	errCardChanged = problem.New(http.StatusConflict, "Changed by someone else",
		"Someone else saved a newer version of this card. Look at it before you change it; what you typed is still here.")
	errCardsFull  = problem.New(http.StatusConflict, "Full", "There is no room for more here: close what is done, or keep fewer.")
	errCardClosed = problem.New(http.StatusConflict, "Closed already", "This card is closed. Start it again for more work.")
)

func cardError(err error) error {
	switch {
	case errors.Is(err, store.ErrChanged):
		return errCardChanged
	case errors.Is(err, store.ErrInUse):
		return errCardsFull
	case errors.Is(err, store.ErrClosed):
		return errCardClosed
	}
	return keyed.Refused(err, "check-off")
}

// shipped is a card that ships, by its ID.
func shipped(id string) (workcard.Card, bool) {
	list := workcard.Cards()
	i := slices.IndexFunc(list, func(c workcard.Card) bool { return c.ID == id })
	if i < 0 {
		return workcard.Card{}, false
	}
	return list[i], true
}

func cardSummary(c workcard.Card, v int) api.CardSummary {
	out := api.CardSummary{Id: c.ID, Title: c.Title, For: api.List(c.For), Steps: len(c.Steps), Version: v}
	for _, s := range c.Steps {
		out.Minutes += s.Minutes
	}
	return out
}

// ListCards lists the cards that ship, the shop's own in their place, and the
// shop's further ones.
func (s *Room) ListCards(ctx context.Context, _ api.ListCardsRequestObject) (api.ListCardsResponseObject, error) {
	own := []store.Card{}
	if signin.Person(ctx) != nil {
		var err error
		if own, err = s.store.Cards(ctx); err != nil {
			return nil, err
		}
	}
	out := api.ListCards200JSONResponse{}
	add := func(c store.Card) {
		x := cardSummary(c.Card, c.Version)
		x.By, x.At = &c.By, &c.At
		out = append(out, x)
	}
	for _, c := range workcard.Cards() {
		if i := slices.IndexFunc(own, func(o store.Card) bool { return o.Card.ID == c.ID }); i >= 0 {
			add(own[i])
			continue
		}
		out = append(out, cardSummary(c, 0))
	}
	for _, o := range own {
		if _, ships := shipped(o.Card.ID); !ships {
			add(o)
		}
	}
	return out, nil
}

// card is a version of a card; the newest where v is nil. Who isn't signed in
// sees those that ship.
func (s *Room) card(ctx context.Context, id string, v *int) (api.CardDocument, error) {
	c, ships := shipped(id)
	out := api.CardDocument{Card: c}
	if signin.Person(ctx) != nil {
		newest, err := s.store.Card(ctx, id, 0)
		switch {
		case err == nil:
			out.Newest = newest.Version
			if v == nil || *v == newest.Version {
				out.Card, out.Version, out.By, out.At = newest.Card, newest.Version, &newest.By, &newest.At
				return out, nil
			}
			if *v > 0 {
				old, err := s.store.Card(ctx, id, *v)
				out.Card, out.Version, out.By, out.At = old.Card, old.Version, &old.By, &old.At
				return out, err
			}
		case !errors.Is(err, store.ErrNotFound):
			return out, err
		}
	}
	if !ships || v != nil && *v > 0 {
		return out, problem.NotFound
	}
	return out, nil
}

// GetCard returns a card as a document.
func (s *Room) GetCard(ctx context.Context, r api.GetCardRequestObject) (api.GetCardResponseObject, error) {
	out, err := s.card(ctx, r.Card, r.Params.Version)
	return api.GetCard200JSONResponse(out), err
}

// PutCard keeps the shop's own version.
func (s *Room) PutCard(ctx context.Context, r api.PutCardRequestObject) (api.PutCardResponseObject, error) {
	p := signin.Person(ctx)
	c := r.Body.Card
	if c.ID != r.Card {
		return nil, problem.Field("/card/id", "the card's own name, as in the address: "+r.Card)
	}
	if err := c.Check(); err != nil {
		return nil, fault.Under("card", err)
	}
	kept, err := s.store.KeepCard(ctx, c, r.Body.Base, p.Name)
	if err != nil {
		return nil, cardError(err)
	}
	return api.PutCard200JSONResponse(api.CardDocument{Card: kept.Card, Version: kept.Version, Newest: kept.Version, By: &kept.By, At: &kept.At}), nil
}

// GetCardPDF prints an empty card.
func (s *Room) GetCardPDF(ctx context.Context, r api.GetCardPDFRequestObject) (api.GetCardPDFResponseObject, error) {
	c, err := s.card(ctx, r.Card, nil)
	if err != nil {
		return nil, err
	}
	var all []workcard.Answer
	for _, x := range c.Card.Conditions {
		all = append(all, workcard.Answer{Condition: x.ID, Yes: true})
	}
	var head catalog.Letterhead
	if signin.Person(ctx) != nil { // the shop's address is not a stranger's to print
		if head, err = s.index.Letterhead(ctx); err != nil {
			return nil, err
		}
	}
	b, err := paper.Card(workcard.Sum(workcard.Run{Card: printedWhole(c.Card), Answers: all}, nil), head, c.Card.Title,
		"an empty card; steps with a condition are marked")
	return api.GetCardPDF200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

// printedWhole is a card with all its steps, each condition in words.
func printedWhole(c workcard.Card) workcard.Card {
	ask := map[string]string{}
	for _, x := range c.Conditions {
		ask[x.ID] = x.Ask
	}
	c.Steps = slices.Clone(c.Steps)
	for i := range c.Steps {
		s := &c.Steps[i]
		for _, w := range s.When {
			yes := " Yes: "
			name, not := strings.CutPrefix(w, "!")
			if not {
				yes = " No: "
			}
			s.Do = ask[name] + yes + say.Small(s.Do)
		}
		s.When = nil
	}
	return c
}

// ListCardRuns lists a unit's cards.
func (s *Room) ListCardRuns(ctx context.Context, r api.ListCardRunsRequestObject) (api.ListCardRunsResponseObject, error) {
	if _, err := s.store.UnitName(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := s.store.CardRuns(ctx, r.Id)
	out := make(api.ListCardRuns200JSONResponse, len(list))
	for i, x := range list {
		out[i] = api.CardRunSummary{Id: x.ID, Card: x.Run.Card.ID, Title: x.Run.Card.Title, Version: x.Run.Version,
			Part: x.Run.Part, By: x.By, At: x.At, ClosedBy: api.Some(x.ClosedBy), ClosedAt: x.ClosedAt}
	}
	return out, err
}

// runOut is a run with what is open on its unit.
func (s *Room) runOut(ctx context.Context, id int64) (api.CardRun, error) {
	x, err := s.store.CardRun(ctx, id)
	if err != nil {
		return api.CardRun{}, err
	}
	u, open, err := s.StillOpen(ctx, x)
	if err != nil {
		return api.CardRun{}, err
	}
	return api.CardRun{Id: x.ID, UnitId: x.UnitID, UnitName: u.Name, Card: x.Run.Card.ID, Title: x.Run.Card.Title, Version: x.Run.Version, Part: x.Run.Part, By: x.By, At: x.At,
		ClosedBy: api.Some(x.ClosedBy), ClosedAt: x.ClosedAt, Answers: api.List(x.Run.Answers), Sheet: *workcard.Sum(x.Run, open)}, nil
}

// BeginCardRun begins a card on a unit.
func (s *Room) BeginCardRun(ctx context.Context, r api.BeginCardRunRequestObject) (api.BeginCardRunResponseObject, error) {
	p := signin.Person(ctx)
	c, err := s.card(ctx, r.Body.Card, nil)
	if errors.Is(err, problem.NotFound) {
		return nil, problem.Field("/card", "there is no such card")
	}
	if err != nil {
		return nil, err
	}
	if err := workcard.Begin(c.Card, r.Body.Answers); err != nil {
		return nil, err
	}
	part := api.Value(r.Body.Part)
	if part != "" {
		line, err := s.UnitParts(ctx, r.Id)
		if err != nil {
			return nil, err
		}
		if !slices.Contains(line, part) {
			return nil, problem.Field("/part", "this unit has no such part")
		}
	}
	id, err := s.store.BeginCardRun(ctx, store.CardRun{UnitID: r.Id,
		Run: workcard.Run{Card: c.Card, Version: c.Version, Part: part, Answers: api.List(r.Body.Answers)}, By: p.Name})
	if err != nil {
		return nil, cardError(err)
	}
	out, err := s.runOut(ctx, id)
	return api.BeginCardRun201JSONResponse(out), err
}

// UnitParts lists the IDs of a unit's parts.
func (s *Room) UnitParts(ctx context.Context, id int64) ([]string, error) {
	d, err := s.store.Driveline(ctx, id)
	if err != nil {
		return nil, err
	}
	var doc struct {
		Parts []struct {
			ID string `json:"id"`
		} `json:"parts"`
	}
	if err := json.Unmarshal(d.Document, &doc); err != nil {
		return nil, err
	}
	out := make([]string, len(doc.Parts))
	for i, p := range doc.Parts {
		out[i] = p.ID
	}
	return out, nil
}

// GetCardRun returns a run.
func (s *Room) GetCardRun(ctx context.Context, r api.GetCardRunRequestObject) (api.GetCardRunResponseObject, error) {
	out, err := s.runOut(ctx, r.Id)
	return api.GetCardRun200JSONResponse(out), err
}

// EnterCardRun puts an entry in.
func (s *Room) EnterCardRun(ctx context.Context, r api.EnterCardRunRequestObject) (api.EnterCardRunResponseObject, error) {
	p := signin.Person(ctx)
	x, err := s.store.CardRun(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	_, open, err := s.StillOpen(ctx, x)
	if err != nil {
		return nil, err
	}
	e := workcard.Entry{Kind: string(r.Body.Kind), Step: r.Body.Step,
		Figure: strings.TrimSpace(api.Value(r.Body.Figure)), Note: strings.TrimSpace(api.Value(r.Body.Note)), By: p.Name}
	if err := s.store.EnterCardRun(ctx, r.Id, r.Body.Key, keyed.Content(*r.Body, r.Body.Key), e,
		func(now store.CardRun) error { return workcard.Take(now.Run, open, e) }); err != nil {
		return nil, cardError(err)
	}
	out, err := s.runOut(ctx, r.Id)
	return api.EnterCardRun200JSONResponse(out), err
}

// CloseCardRun closes a run whose steps are all done and makes a record of it.
func (s *Room) CloseCardRun(ctx context.Context, r api.CloseCardRunRequestObject) (api.CloseCardRunResponseObject, error) {
	p := signin.Person(ctx)
	x, err := s.store.CardRun(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	err = keyed.Judged(ctx, s.store, x.UnitID, func(rev store.Revision) error { return s.closeCardRun(ctx, rev, x, p.Name) })
	if err != nil {
		return nil, cardError(err)
	}
	out, err := s.runOut(ctx, r.Id)
	return api.CloseCardRun200JSONResponse(out), err
}

// closeCardRun closes a run as its unit stands at a revision.
func (s *Room) closeCardRun(ctx context.Context, rev store.Revision, x store.CardRun, by string) error {
	_, open, err := s.StillOpen(ctx, x)
	if err != nil {
		return err
	}
	return s.store.CloseCardRun(ctx, x.ID, rev, by, func(now store.CardRun) (store.Decision, error) {
		sheet := workcard.Sum(now.Run, open)
		if !sheet.Ready {
			return store.Decision{}, problem.Field("/steps", "Not done yet: "+strings.Join(sheet.Missing[:min(4, len(sheet.Missing))], "; ")+".")
		}
		d := store.Decision{UnitID: now.UnitID, Kind: "card", Title: say.Clip(sheet.Title, 199), By: by}
		var err error
		if d.Question, err = json.Marshal(now.Run); err != nil {
			return d, err
		}
		d.Answer, err = json.Marshal(sheet)
		return d, err
	})
}

// GetCardRunPDF prints a run as far as it is done.
func (s *Room) GetCardRunPDF(ctx context.Context, r api.GetCardRunPDFRequestObject) (api.GetCardRunPDFResponseObject, error) {
	x, err := s.runOut(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	under := fmt.Sprintf("%s · begun by %s on %s", x.UnitName, x.By, say.Day(x.At))
	if x.ClosedAt != nil {
		under += fmt.Sprintf(", closed by %s on %s", api.Value(x.ClosedBy), say.Day(*x.ClosedAt))
	}
	head, err := s.index.Letterhead(ctx)
	if err != nil {
		return nil, err
	}
	b, err := paper.Card(&x.Sheet, head, x.Title, under)
	return api.GetCardRunPDF200ApplicationpdfResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
}

// StillOpen lists what should be done or ordered before the unit is closed: ratios
// of the part that aren't settled, gears that were decided and not fitted, a
// set-up that isn't good, findings that aren't as they should be.
func (s *Room) StillOpen(ctx context.Context, x store.CardRun) (api.Unit, []workcard.Open, error) {
	u, err := s.units.Load(ctx, x.UnitID)
	if err != nil {
		return u, nil, err
	}
	var out []workcard.Open
	for _, v := range u.Stages {
		if !v.Present || x.Run.Part != "" && v.Part != x.Run.Part || x.Run.Part == "" && v.Readings == 0 {
			continue
		}
		if v.State == identify.Measured {
			continue
		}
		why := map[identify.State]string{identify.Conflict: "its readings contradict each other", identify.Assumed: "it rests on one reading or on an assumption", identify.Unknown: "nothing was counted yet"}[v.State]
		out = append(out, workcard.Open{ID: fmt.Sprintf("ratio_%d", v.Id), What: v.Name + ": count it while it is open", Why: why})
	}
	list, err := s.store.Decisions(ctx, x.UnitID)
	if err != nil {
		return u, nil, err
	}
	fittings, err := s.store.Fittings(ctx, x.UnitID)
	if err != nil {
		return u, nil, err
	}
	seen := map[string]bool{}
	for _, d := range list {
		o := opened(d, x.Run.Part)
		if o == nil || seen[o.ID] {
			continue
		}
		seen[o.ID] = true
		if o.What == "" || d.Kind == "regear" && slices.ContainsFunc(fittings, func(f store.Fitting) bool { return f.At.After(d.At) }) {
			continue
		}
		out = append(out, *o)
	}
	return u, out, nil
}

// opened is what a record leaves open; nil where it is about something else,
// without words where it leaves nothing. The newest of its kind counts.
func opened(d store.Decision, part string) *workcard.Open {
	switch d.Kind {
	case "setup":
		var q setup.Question
		var a setup.Answer
		if json.Unmarshal(d.Question, &q) != nil || json.Unmarshal(d.Answer, &a) != nil || a.Axle == nil || q.Axle == nil || part != "" && q.Axle.Part != "" && q.Axle.Part != part {
			return nil
		}
		o := &workcard.Open{ID: "setup_" + q.Axle.Part}
		if a.Axle.State != setup.StateGood {
			o.What, o.Why = "The set-up is not good yet", a.Axle.Sentence
		}
		return o
	case "regear":
		return &workcard.Open{ID: "regear", What: "Gears were decided and are not fitted: swap them now, or order them", Why: d.Title}
	case "inspection":
		var a gearcase.Inspection
		if json.Unmarshal(d.Answer, &a) != nil {
			return nil
		}
		o := &workcard.Open{ID: "inspection"}
		var bad []string
		for _, f := range a.Found {
			if !f.Good {
				bad = append(bad, f.What+": "+f.Find)
			}
		}
		if len(bad) > 0 {
			o.What, o.Why = "Found and to be mended", strings.Join(bad, "; ")
		}
		return o
	case "backlash":
		var a gearcase.Verdict
		if json.Unmarshal(d.Answer, &a) != nil {
			return nil
		}
		o := &workcard.Open{ID: "backlash"}
		if !a.Done {
			o.What, o.Why = "The backlash of the gearcase is not good yet", a.Sentence
		}
		return o
	}
	return nil
}

func printRun(d store.Decision, u store.Unit, head catalog.Letterhead) ([]byte, error) {
	var s workcard.Sheet
	if err := json.Unmarshal(d.Answer, &s); err != nil || len(s.Steps) == 0 {
		return nil, record.ErrNoFigures
	}
	return paper.Card(&s, head, u.Name+": "+d.Title, fmt.Sprintf("closed by %s on %s", d.By, say.Day(d.At)))
}
