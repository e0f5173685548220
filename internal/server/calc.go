package server

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/identify"
	"zorvel/internal/store"
)

// shop is the shop's own catalog by stage.
type shop map[identify.Stage][]identify.CatalogEntry

func (s *Server) loadShop(ctx context.Context) (shop, error) {
	rows, err := s.rowsOf(ctx, catalog.GearSets)
	out := shop{}
	for _, x := range rows {
		r := catalog.Row(x.Cells)
		k := r.Stage().Normal()
		out[k] = append(out[k], r.Entry())
	}
	return out, err
}

// shopSpace is the space with the shop's catalog in its prior, and a mark that
// changes when the catalog does.
func (s *Server) shopSpace(sh shop, st identify.Stage) (*identify.Space, string, error) {
	base, err := s.knowing.space(st)
	if err != nil {
		return nil, "", err
	}
	n := st.Normal()
	sets := sh[n]
	if len(sets) == 0 {
		return base, "", nil
	}
	mark, err := json.Marshal(sets)
	if err != nil {
		return nil, "", err
	}
	key := fmt.Sprintf("%q %s", n, mark)
	sp, err := s.knowing.shop.get(key, func() (*identify.Space, error) { return base.WithCatalog(sets) })
	if err != nil {
		return nil, "", fmt.Errorf("the shop's catalog: %w", err)
	}
	return sp, key, nil
}

// Identify weighs readings without storing anything.
func (s *Server) Identify(ctx context.Context, r api.IdentifyRequestObject) (api.IdentifyResponseObject, error) {
	q := r.Body
	st := q.Stage
	sp, err := s.knowing.space(st)
	if err != nil {
		return nil, err
	}
	if deref(q.Prior) == api.Shop {
		sh, err := s.loadShop(ctx)
		if err != nil {
			return nil, err
		}
		if sp, _, err = s.shopSpace(sh, st); err != nil {
			return nil, err
		}
	}
	if q.Catalog != nil {
		entries := make([]identify.CatalogEntry, len(*q.Catalog))
		for i, e := range *q.Catalog {
			entries[i] = identify.CatalogEntry{Construction: e.Construction, Teeth: e.Teeth, Weight: deref(e.Weight)}
		}
		if sp, err = sp.WithCatalog(entries); err != nil {
			return nil, err
		}
	}
	readings := make([]identify.Reading, len(q.Readings))
	for i, x := range q.Readings {
		readings[i] = x
		if readings[i].ID == "" {
			readings[i].ID = fmt.Sprintf("%d", i+1)
		}
	}
	a, err := identify.Assess(sp, readings)
	if err != nil {
		return nil, err
	}
	sit := deref(q.Situation)
	v := a.Verdict()
	if q.Candidates != nil {
		v = a.VerdictWith(*q.Candidates)
	}
	out := verdictOut(v, sp)
	for _, goal := range []identify.Goal{identify.SettleLabel, identify.SettlePair} {
		out.Next = append(out.Next, a.Next(goal, sit))
	}
	if o := q.Order; o != nil {
		g, err := a.Gate(*o, sit)
		if err != nil {
			return nil, err
		}
		out.Gate = &g
	}
	return api.Identify200JSONResponse(out), nil
}

// EchoWords repeats what was understood.
func (s *Server) EchoWords(_ context.Context, r api.EchoWordsRequestObject) (api.EchoWordsResponseObject, error) {
	e, err := identify.Understand(r.Body.Text, identify.Phrase(r.Body.As), r.Body.Stage)
	if err != nil {
		return nil, err
	}
	out := api.Echo{Sentence: e.Sentence, Choices: []api.EchoChoice{}}
	for _, c := range e.Choices {
		out.Choices = append(out.Choices, api.EchoChoice{Sentence: c.Sentence, Text: c.Text})
	}
	if e.Shaft != nil {
		out.Shaft = e.Shaft
	}
	return api.EchoWords200JSONResponse(out), nil
}

// GetKnowledge lists what verdicts rest on.
func (s *Server) GetKnowledge(context.Context, api.GetKnowledgeRequestObject) (api.GetKnowledgeResponseObject, error) {
	out := api.Knowledge{}
	for _, kind := range identify.Kinds() {
		k := api.KnownStage{Kind: kind, Positions: positions(kind), TwoWheels: kind == identify.RingAndPinion || kind == identify.TwoStage}
		for _, pos := range k.Positions {
			st := identify.Stage{Kind: kind, Position: pos}
			cons, err := st.Constructions()
			if err != nil {
				return nil, err
			}
			for _, c := range cons {
				x := api.KnownConstruction{Position: pos, Id: c.ID, Words: c.Words, Formula: c.Formula(st), Teeth: []api.KnownTooth{}}
				for _, t := range c.Teeth {
					x.Teeth = append(x.Teeth, api.KnownTooth{Member: t.Name, Words: t.Words, Min: t.Min, Max: t.Max})
				}
				k.Constructions = append(k.Constructions, x)
			}
		}
		if len(k.Positions) == 1 && k.Positions[0] == "" {
			k.Positions = []string{}
		}
		out.Stages = append(out.Stages, k)
	}
	out.Models = identify.Models()
	return api.GetKnowledge200JSONResponse(out), nil
}

// summarize is the verdict on a stage in short, from all standing readings of
// what is fitted now.
func (s *Server) summarize(ctx context.Context, sh shop, v store.Stage) (summary, error) {
	if v.Standing == 0 {
		return summary{state: identify.Unknown}, nil
	}
	st := kept(v)
	sp, mark, err := s.shopSpace(sh, st)
	if err != nil {
		return summary{}, err
	}
	key := fmt.Sprintf("%d %s %s", v.ID, v.Newest, mark)
	if x, ok := s.knowing.summaries.Get(key); ok {
		return x, nil
	}
	rows, err := s.store.Readings(ctx, v.ID)
	if err != nil {
		return summary{}, err
	}
	var readings []identify.Reading
	for _, row := range rows {
		if row.Struck != nil || row.Fitting != v.Since {
			continue
		}
		var r identify.Reading
		if err := json.Unmarshal(row.Data, &r); err != nil {
			return summary{}, fmt.Errorf("reading %d: %w", row.ID, err)
		}
		readings = append(readings, r)
	}
	a, err := identify.Assess(sp, readings)
	if err != nil {
		return summary{}, fmt.Errorf("stage %d: %w", v.ID, err)
	}
	verdict := verdictOut(a.Verdict(), sp)
	x := summary{state: identify.State(verdict.State), label: verdict.Label}
	if verdict.Best != nil {
		x.build = &verdict.Best.Build
	}
	s.knowing.summaries.Add(key, x)
	return x, nil
}

// kept is the question of a stored stage.
func kept(v store.Stage) identify.Stage {
	return identify.Stage{Kind: identify.Kind(v.Kind), Position: v.Position, Held: identify.Member(v.Held), Input: identify.Member(v.Input)}
}

// checkStage refuses a stage that can't be asked about; field is the path of
// the question in the request.
func checkStage(st identify.Stage, field string) error {
	if _, err := st.Constructions(); err != nil {
		return atField(field, err)
	}
	if st.Kind == identify.Planetary || st.Held != "" || st.Input != "" {
		if _, err := identify.NewSpace(identify.Stage{Kind: identify.Planetary, Held: st.Held, Input: st.Input}); err != nil {
			return atField(field, err)
		}
	}
	if p := positions(st.Kind); len(p) == 1 && st.Position != "" {
		return refuseField(field+"/position", "this kind of stage has one ratio only; leave the position empty")
	} else if st.Kind == identify.TransferCase && !slices.Contains(p, st.Position) {
		return refuseField(field+"/position", "high, low or front")
	}
	return nil
}

// atField moves the core's "stage/…" paths to where the question stands.
func atField(field string, err error) error {
	if e, ok := err.(*identify.Error); ok {
		return refuseField(field+e.Field[len("stage"):], e.Message)
	}
	return err
}
