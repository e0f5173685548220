package experience

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"

	"zorvel/api"
	"zorvel/core/backlash"
	"zorvel/core/experience"
	"zorvel/core/fault"
	"zorvel/core/findfault"
	"zorvel/core/gearcase"
	"zorvel/core/identify"
	"zorvel/core/say"
	"zorvel/core/setup"
	"zorvel/internal/index"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// Bounds of what is looked at to say what this shop found.
const (
	mostCounted = 50_000
	mostSetUps  = 5000
	mostOften   = 6 // sets that are named
)

// rules say how experience weighs.
var rules = []string{
	"Gears: other shops' counts get a share of the starting odds, (matches here + 4 × match rate) ÷ (counted here + 4). " +
		"The match rate is how many of one shop's housings had a set that another shop had counted.",
	"A ratio is called sure only if it is also sure with a cautious share: the matches that this shop's own counts prove, " +
		"or, with fewer than ten counts, half the match rate proved for the worst-matched shop.",
	"Faults: other shops' repairs adjust the typical odds, which count as 20 jobs. The result counts as 20 jobs beside this shop's own.",
	"Backlash: other shops' set-ups adjust the figure computed from the teeth, which counts as 5 housings. " +
		"This housing's own trials count most.",
	"No shop counts as more than 200 housings or jobs. Remove a shop, and its counts no longer affect anything.",
}

// ListExperience tells what other shops gave, and what it weighs here.
func (s *Room) ListExperience(ctx context.Context, _ api.ListExperienceRequestObject) (api.ListExperienceResponseObject, error) {
	own, err := s.gather(ctx, "")
	if err != nil {
		return nil, err
	}
	rows, err := s.store.Experiences(ctx)
	if err != nil {
		return nil, err
	}
	out := api.ListExperience200JSONResponse{Own: told(&own), Shops: []api.ExperienceShop{}, Rules: rules,
		Gears: []api.ExperienceGearsWeight{}, Faults: []api.ExperienceFaultWeight{}, Housings: []api.ExperienceHousingWeight{}}
	for _, x := range rows {
		var f experience.File
		if err := json.Unmarshal(x.File, &f); err != nil {
			f = experience.File{Shop: x.Shop, Number: x.Number}
		}
		shop := told(&f)
		shop.Id, shop.By, shop.At = x.ID, &x.By, &x.At
		out.Shops = append(out.Shops, shop)
	}
	return out, s.weights(ctx, &out)
}

// weights adds what experience comes to here.
func (s *Room) weights(ctx context.Context, out *api.ListExperience200JSONResponse) error {
	pool, err := s.index.Experience(ctx)
	if err != nil {
		return err
	}
	if err := s.index.Recount(ctx); err != nil {
		return err
	}
	shop, err := s.index.Shop(ctx)
	if err != nil {
		return err
	}
	for _, st := range pool.Stages() {
		out.Gears = append(out.Gears, gears(st, shop.Others(st)))
	}
	typical, jobs := findfault.Priors(), pool.Faults()
	with := findfault.Learn(typical, jobs)
	for sort, n := range jobs {
		out.Faults = append(out.Faults, api.ExperienceFaultWeight{Sort: sort, Found: n, Typical: typical[sort],
			Weight: say.Round(with[sort], 2)})
	}
	slices.SortFunc(out.Faults, func(a, b api.ExperienceFaultWeight) int {
		return cmp.Or(b.Found-a.Found,
			cmp.Compare(a.Sort, b.Sort))
	})
	ring, pinion := setup.ByLaw()
	for _, k := range []struct {
		kind string
		law  backlash.Housings
	}{{experience.Ring, ring}, {experience.Pinion, pinion}, {experience.Gearcase, backlash.ByLaw(backlash.LawSigma)}} {
		if h := pool.Housings(k.kind, k.law); h != nil {
			out.Housings = append(out.Housings, api.ExperienceHousingWeight{Kind: k.kind, Count: h.Count,
				Factor: say.Round(h.Factor, 3), Sigma: say.Round(h.Sigma, 3)})
		}
	}
	return nil
}

func gears(st identify.Stage, o identify.Others) api.ExperienceGearsWeight {
	often := []string{}
	for _, e := range o.Sets[:min(len(o.Sets), mostOften)] {
		text := ""
		for i, n := range e.Teeth {
			if i > 0 {
				text += "/"
			}
			text += fmt.Sprint(n)
		}
		often = append(often, fmt.Sprintf("%s (%s)", text, say.Trim(e.Weight, 0)))
	}
	return api.ExperienceGearsWeight{Kind: st.Kind, Position: st.Position, Counted: o.Counted, Shops: o.Shops,
		Sets:     len(o.Sets),
		Foretold: say.Round(o.Foretold, 3), Own: o.Own, Hit: o.Hit, Share: o.Share(), Often: &often}
}

// told is a file in short.
func told(f *experience.File) api.ExperienceShop {
	name := f.Name
	if name == "" {
		name = f.Shop[:min(len(f.Shop), 8)]
	}
	return api.ExperienceShop{Name: name, Number: f.Number, Counted: f.Counted(), Sets: len(f.Gears),
		Proved: f.Proved(), Housings: f.Moved()}
}

// TakeExperience looks at another shop's file, or lets it weigh.
func (s *Room) TakeExperience(ctx context.Context, r api.TakeExperienceRequestObject) (api.TakeExperienceResponseObject, error) {
	f := &r.Body.File
	if err := f.Check(); err != nil {
		return nil, fault.Under("file", err)
	}
	if f.Empty() {
		return nil, problem.Field("/file/gears", "this file is empty. Choose one with gears, faults or housings")
	}
	own, _, err := s.store.Own(ctx)
	if err != nil {
		return nil, err
	}
	if own == f.Shop {
		return nil, problem.Field("/file/shop", "this is your own shop's file, and its counts are used already. Choose the file of another shop")
	}
	rows, err := s.store.Experiences(ctx)
	if err != nil {
		return nil, err
	}
	out := api.TakeExperience200JSONResponse{Shop: told(f)}
	for _, x := range rows {
		if x.Shop == f.Shop {
			out.Instead = true
			if x.Number > f.Number {
				return nil, older()
			}
		}
	}
	if !api.Value(r.Body.Keep) {
		return out, nil
	}
	text, err := json.Marshal(f)
	if err != nil {
		return nil, err
	}
	x := store.Experience{Shop: f.Shop, Number: f.Number, File: text, By: signin.Person(ctx).Name}
	switch err := s.store.TakeExperience(ctx, x, experience.MostShops); {
	case errors.Is(err, store.ErrOlder):
		return nil, older()
	case errors.Is(err, store.ErrFull):
		return nil, problem.Field("/file/shop", fmt.Sprintf("at most %d other shops: remove one first",
			experience.MostShops))
	case err != nil:
		return nil, err
	}
	out.Kept = true
	signin.Note(ctx, s.store, "experience imported", out.Shop.Name)
	return out, nil
}

func older() error {
	return problem.New(http.StatusConflict, "Older than what is here",
		"A newer file of this shop is here already. To go back to this one, remove the newer one first.")
}

// GiveExperience is what this shop found.
func (s *Room) GiveExperience(ctx context.Context, r api.GiveExperienceRequestObject) (api.GiveExperienceResponseObject, error) {
	f, err := s.gather(ctx, api.Value(r.Params.Name))
	if err != nil {
		return nil, err
	}
	signin.Note(ctx, s.store, "experience exported", f.Name)
	return api.GiveExperience200JSONResponse(f), nil
}

// DropExperience takes a shop's file out.
func (s *Room) DropExperience(ctx context.Context, r api.DropExperienceRequestObject) (api.DropExperienceResponseObject, error) {
	if err := s.store.DropExperience(ctx, r.Id); err != nil {
		return nil, err
	}
	signin.Note(ctx, s.store, "experience removed", fmt.Sprint(r.Id))
	return api.DropExperience204Response{}, nil
}

// GetExperienceFile gives a shop's file back.
func (s *Room) GetExperienceFile(ctx context.Context,
	r api.GetExperienceFileRequestObject) (api.GetExperienceFileResponseObject, error) {
	rows, err := s.store.Experiences(ctx)
	if err != nil {
		return nil, err
	}
	for _, x := range rows {
		var f experience.File
		if x.ID == r.Id && json.Unmarshal(x.File, &f) == nil {
			return api.GetExperienceFile200JSONResponse(f), nil
		}
	}
	return nil, store.ErrNotFound
}

// gather counts what this shop found: gears that were counted, the newest count of each
// ratio; faults that repairs proved; set-ups whose trials taught.
func (s *Room) gather(ctx context.Context, name string) (experience.File, error) {
	shop, number, err := s.store.Own(ctx)
	if err != nil {
		return experience.File{}, err
	}
	var g experience.Gather
	teeth, err := s.store.CountedTeeth(ctx, mostCounted)
	if err != nil {
		return experience.File{}, err
	}
	seen := map[int64]bool{}
	for _, x := range teeth {
		var r identify.Reading
		if seen[x.Stage.ID] || json.Unmarshal(x.Data, &r) != nil {
			continue
		}
		st := index.Kept(x.Stage)
		if _, _, whole := st.Whole(r.Teeth); whole {
			seen[x.Stage.ID] = true
			g.Count(st, r.Teeth)
		}
	}
	repairs, _, _, err := s.faults.Repairs(ctx)
	if err != nil {
		return experience.File{}, err
	}
	for _, x := range repairs {
		if x.Cured {
			g.Prove(x.FoundSort)
		}
	}
	if err := s.housings(ctx, &g); err != nil {
		return experience.File{}, err
	}
	return g.File(shop, number, name), nil
}

// housings adds what set-ups taught, the newest of each gear of a unit.
func (s *Room) housings(ctx context.Context, g *experience.Gather) error {
	seen := map[string]bool{}
	first := func(unit int64, part string) bool {
		k := fmt.Sprint(unit, " ", part)
		was := seen[k]
		seen[k] = true
		return !was
	}
	rows, err := s.store.Kind(ctx, "setup", true, mostSetUps)
	if err != nil {
		return err
	}
	for _, d := range rows {
		var q setup.Question
		if json.Unmarshal(d.Question, &q) != nil || q.Axle == nil || !first(d.UnitID, q.Axle.Part) {
			continue
		}
		ring, pinion, ringOK, pinionOK := setup.Taught(*q.Axle)
		if ringOK {
			g.Learn(experience.Ring, ring)
		}
		if pinionOK {
			g.Learn(experience.Pinion, pinion)
		}
	}
	if rows, err = s.store.Kind(ctx, "backlash", true, mostSetUps); err != nil {
		return err
	}
	for _, d := range rows {
		var q gearcase.Backlash
		if json.Unmarshal(d.Question, &q) != nil || !first(d.UnitID, "case "+q.Gear) {
			continue
		}
		if x, ok := gearcase.Taught(q); ok {
			g.Learn(experience.Gearcase, x)
		}
	}
	return nil
}
