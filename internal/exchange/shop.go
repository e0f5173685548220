package exchange

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"zorvel/api"
	"zorvel/core/catalog"
	"zorvel/core/driveline"
	"zorvel/core/fault"
	"zorvel/core/workcard"
	"zorvel/internal/archive"
	"zorvel/internal/backup"
	"zorvel/internal/door"
	"zorvel/internal/httpd"
	"zorvel/internal/problem"
	"zorvel/internal/rooms/parts"
	"zorvel/internal/rooms/units"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// A whole shop leaves and comes back as an archive of open files, zorvel-shop-1;
// docs/formats.md tells what is in it.

const (
	shopFormat   = "zorvel-shop-1"
	shopFile     = "zorvel-shop.json"
	listsFile    = "lists.json"
	partsFile    = "parts.json"
	cardsFile    = "cards.json"
	filtersFile  = "filters.json"
	mostShopFile = 64 << 20
	mostNamed    = 50
)

// ShopLimits are what a shop's archive holds at most.
var ShopLimits = archive.Limits{Files: 400_000, Bytes: 64 << 30}

type shopIndex struct {
	Format string     `json:"format"`
	MadeAt time.Time  `json:"made_at"`
	Units  []shopUnit `json:"units"`
}

type shopUnit struct {
	File string `json:"file"`
	Name string `json:"name"`
}

type shopRows struct {
	List string        `json:"list"`
	Rows []catalog.Row `json:"rows"`
}

type shopPart struct {
	Maker string          `json:"maker,omitempty"`
	Name  string          `json:"name"`
	Notes string          `json:"notes,omitempty"`
	Part  *driveline.Part `json:"part"`
}

type shopCard struct {
	Card    workcard.Card `json:"card"`
	Version int           `json:"version"`
	By      string        `json:"by"`
	At      time.Time     `json:"at"`
}

type shopFilter struct {
	Name  string    `json:"name"`
	Query string    `json:"query"`
	By    string    `json:"by"`
	At    time.Time `json:"at"`
}

// ExportShop gives everything of the shop as open files.
func (s *Room) ExportShop(ctx context.Context, _ api.ExportShopRequestObject) (api.ExportShopResponseObject, error) {
	signin.Note(ctx, s.store, "shop exported", "")
	body := s.streamed(ctx, func(z *zip.Writer) error { return s.WriteShop(ctx, z, func(int, int) {}) })
	return api.ExportShop200ApplicationzipResponse{Body: body}, nil
}

// WriteShop writes everything of the shop, and tells after each unit how many of how
// many there are.
func (s *Room) WriteShop(ctx context.Context, z *zip.Writer, told func(done, of int)) error {
	units, err := s.store.UnitNames(ctx)
	if err != nil {
		return err
	}
	index := shopIndex{Format: shopFormat, MadeAt: time.Now().UTC().Truncate(time.Second), Units: []shopUnit{}}
	for i, u := range units {
		folder := fmt.Sprintf("units/%06d/", i+1)
		if err := s.writeUnit(ctx, z, folder, u.ID); err != nil {
			return fmt.Errorf("%s: %w", u.Name, err)
		}
		index.Units = append(index.Units, shopUnit{folder + unitFile, u.Name})
		told(i+1, len(units))
	}
	if err := s.writeLists(ctx, z); err != nil {
		return err
	}
	if err := putJSON(z, shopFile, index); err != nil {
		return err
	}
	return backup.Tables(ctx, s.store, z)
}

// writeLists writes what the shop has beside its units.
func (s *Room) writeLists(ctx context.Context, z *zip.Writer) error {
	lists := []shopRows{}
	for _, l := range catalog.Lists() {
		rows, err := s.store.CatalogRows(ctx, l.ID)
		if err != nil {
			return err
		}
		x := shopRows{List: l.ID, Rows: []catalog.Row{}}
		for _, r := range rows {
			x.Rows = append(x.Rows, r.Cells)
		}
		lists = append(lists, x)
	}
	parts := []shopPart{}
	kept, err := s.store.ShopParts(ctx, "")
	if err != nil {
		return err
	}
	for _, p := range kept {
		part, err := units.KeptPart(p.Part)
		if err != nil {
			return fmt.Errorf("part %d: %w", p.ID, err)
		}
		parts = append(parts, shopPart{Maker: p.Maker, Name: p.Name, Notes: p.Notes, Part: &part})
	}
	cards := []shopCard{}
	own, err := s.store.EveryCard(ctx)
	if err != nil {
		return err
	}
	for _, c := range own {
		cards = append(cards, shopCard{Card: c.Card, Version: c.Version, By: c.By, At: c.At})
	}
	filters := []shopFilter{}
	saved, err := s.store.Filters(ctx)
	if err != nil {
		return err
	}
	for _, f := range saved {
		filters = append(filters, shopFilter{f.Name, f.Query, f.By, f.At})
	}
	for name, v := range map[string]any{listsFile: lists, partsFile: parts, cardsFile: cards, filtersFile: filters} {
		if err := putJSON(z, name, v); err != nil {
			return err
		}
	}
	return nil
}

// ImportShop looks at a shop's archive, or takes it in.
func (s *Room) ImportShop(ctx context.Context, r api.ImportShopRequestObject) (api.ImportShopResponseObject, error) {
	p := signin.Person(ctx)
	a, err := httpd.Archived(r.Body, ShopLimits)
	if err != nil {
		return nil, err
	}
	out, err := s.ReadShop(ctx, a, p.Name, api.Value(r.Params.Keep), func(string, int, int) {})
	if err != nil {
		return nil, err
	}
	if out.Kept {
		signin.Note(ctx, s.store, "shop imported", fmt.Sprintf("%d units", out.Units))
	}
	return api.ImportShop200JSONResponse(*out), nil
}

// ReadShop judges a shop's archive and, where it is to be kept, takes it in: all of
// it or nothing. told is told what is being done, and how much of how much.
func (s *Room) ReadShop(ctx context.Context, a *archive.Archive, by string, keep bool,
	told func(what string, done, of int)) (*api.ShopImport, error) {
	var index shopIndex
	if err := shopJSON(a, shopFile, &index); err != nil {
		return nil, err
	}
	if index.Format != shopFormat {
		return nil, problem.Field("/format", fmt.Sprintf("%s calls itself %.40q; this program reads %s", shopFile, index.Format, shopFormat))
	}
	out := &api.ShopImport{MadeAt: &index.MadeAt, SameNames: []string{}, Lists: []api.ShopImportList{}}
	in, err := s.readLists(ctx, a, by, out)
	if err != nil {
		return nil, err
	}
	if err := s.judgeUnits(ctx, a, index, by, out, told); err != nil {
		return nil, err
	}
	if !keep {
		return out, nil
	}
	next := func(i int) (store.Import, error) {
		x, _, err := s.readUnit(ctx, a, folderOf(index.Units[i]), by, takenInTold, false)
		return x, err
	}
	if err := s.store.ImportShop(ctx, in, len(index.Units), next, func(done int) {
		told("imported", done,
			len(index.Units))
	}); err != nil {
		if errors.Is(err, store.ErrFull) {
			return nil, problem.Field("/lists", fmt.Sprintf("a list holds at most %d rows", store.MaxCatalogRows))
		}
		return nil, err
	}
	out.Kept = true
	return out, nil
}

func folderOf(u shopUnit) string { return strings.TrimSuffix(u.File, unitFile) }

// judgeUnits looks at every unit, photo and recording of the archive.
func (s *Room) judgeUnits(ctx context.Context, a *archive.Archive, index shopIndex, by string, out *api.ShopImport,
	told func(what string, done, of int)) error {
	here, err := s.store.UnitNames(ctx)
	if err != nil {
		return err
	}
	names := map[string]bool{}
	for _, u := range here {
		names[u.Name] = true
	}
	seen := map[string]bool{}
	for i, u := range index.Units {
		at := fmt.Sprintf("units/%d", i)
		if !strings.HasSuffix(u.File, "/"+unitFile) || seen[u.File] {
			return fault.New(at+"/file", "a file %s of its own", unitFile)
		}
		seen[u.File] = true
		x, named, err := s.readUnit(ctx, a, folderOf(u), by, takenInTold, true)
		if err != nil {
			return inFile(u.File, err)
		}
		for n := range named {
			seen[n] = true
		}
		out.Units++
		out.Photos += len(x.Photos)
		out.Recordings += len(x.Heard)
		if names[x.Unit.Name] && len(out.SameNames) < mostNamed {
			out.SameNames = append(out.SameNames, x.Unit.Name)
		}
		told("looked at", i+1, len(index.Units))
	}
	for _, n := range a.Names() {
		if strings.HasPrefix(n, "units/") && !seen[n] {
			return problem.Field("/units", fmt.Sprintf("%s is in the archive, and nothing names it", n))
		}
	}
	return nil
}

// inFile says in which file of an archive something is wrong.
func inFile(file string, err error) error {
	p := problem.Of(err)
	if p == nil {
		return err
	}
	out := *p
	out.Detail = file + ": " + p.Detail
	out.Errors = slices.Clone(p.Errors)
	for i := range out.Errors {
		out.Errors[i] = problem.FieldFault{Field: "/" + file + out.Errors[i].Field, Message: out.Errors[i].Message}
	}
	return &out
}

// Told is an error in the words and with the places that a client would be told.
func Told(err error) error {
	p := problem.Of(err)
	if p == nil || len(p.Errors) == 0 {
		return err
	}
	var lines []string
	for _, e := range p.Errors {
		lines = append(lines, strings.TrimSpace(e.Field+" "+e.Message))
	}
	return errors.New("nothing was imported: " + strings.Join(lines, "; "))
}

// shopJSON reads one of the archive's own files.
func shopJSON(a *archive.Archive, name string, to any) error {
	text, err := a.Read(name, mostShopFile)
	if err != nil {
		return problem.Field("", err.Error())
	}
	if err := httpd.Readable(text); err != nil {
		return inFile(name, err)
	}
	if err := json.Unmarshal(text, to); err != nil {
		return problem.Field("/"+name, "can't be read: "+err.Error())
	}
	return nil
}

// readLists judges what an archive has beside its units, against what is here.
func (s *Room) readLists(ctx context.Context, a *archive.Archive, by string, out *api.ShopImport) (store.Shop, error) {
	in := store.Shop{By: by}
	var lists []shopRows
	if err := shopJSON(a, listsFile, &lists); err != nil {
		return in, err
	}
	seen := map[string]bool{}
	for i, x := range lists {
		at := fmt.Sprintf("%s/%d", listsFile, i)
		k := slices.IndexFunc(catalog.Lists(), func(l catalog.List) bool { return l.ID == x.List })
		if k < 0 || seen[x.List] {
			return in, fault.New(at+"/list", "one of the shop's lists, and each once")
		}
		seen[x.List] = true
		l := catalog.Lists()[k]
		list, told, err := s.readList(ctx, l, x.Rows, at+"/rows")
		if err != nil {
			return in, err
		}
		if told.Rows > 0 {
			in.Lists, out.Lists = append(in.Lists, list), append(out.Lists, told)
		}
	}
	if err := s.readParts(ctx, a, &in); err != nil {
		return in, err
	}
	out.Parts = len(in.Parts)
	if err := s.readCards(ctx, a, &in); err != nil {
		return in, err
	}
	out.Cards = len(in.Cards)
	err := s.readFilters(ctx, a, &in)
	out.Filters = len(in.Filters)
	return in, err
}

func (s *Room) readList(ctx context.Context, l catalog.List, rows []catalog.Row, at string) (store.ShopList, api.ShopImportList, error) {
	in, told := store.ShopList{List: l.ID}, api.ShopImportList{List: l.ID, Name: l.Name, Rows: len(rows)}
	if len(rows) > store.MaxCatalogRows {
		return in, told, fault.New(at, "at most %d rows", store.MaxCatalogRows)
	}
	here, err := s.store.CatalogRows(ctx, l.ID)
	if err != nil {
		return in, told, err
	}
	have := map[string]catalog.Row{}
	for _, r := range here {
		have[r.Identity] = r.Cells
	}
	seen := map[string]bool{}
	for i, r := range rows {
		row, err := l.Check(r)
		if err != nil {
			return in, told, fault.Under(fmt.Sprintf("%s/%d", at, i), err)
		}
		id := l.Identity(row)
		if seen[id] {
			return in, told, fault.New(fmt.Sprintf("%s/%d", at, i), "this row is on the list already")
		}
		seen[id] = true
		switch old, known := have[id]; {
		case !known:
			told.Added++
		case l.Difference(old, row) != "":
			told.Changed++
		default:
			told.Same++
		}
		in.Rows = append(in.Rows, store.CatalogRow{Identity: id, Cells: row})
	}
	return in, told, nil
}

func (s *Room) readParts(ctx context.Context, a *archive.Archive, in *store.Shop) error {
	var list []shopPart
	if err := shopJSON(a, partsFile, &list); err != nil {
		return err
	}
	here, err := s.store.ShopParts(ctx, "")
	if err != nil {
		return err
	}
	have := map[string]bool{}
	id := func(p store.ShopPart) string { return strings.ToLower(p.Kind + "|" + p.Maker + "|" + p.Name) }
	for _, p := range here {
		have[id(p)] = true
	}
	for i, p := range list {
		at := fmt.Sprintf("%s/%d", partsFile, i)
		switch {
		case p.Part == nil:
			return fault.New(at+"/part", "is needed")
		case strings.TrimSpace(p.Name) == "" || utf8.RuneCountInString(p.Name) > 80:
			return fault.New(at+"/name", "a name of at most 80 letters")
		case utf8.RuneCountInString(p.Maker) > 60:
			return fault.New(at+"/maker", "at most 60 letters")
		case utf8.RuneCountInString(p.Notes) > 400:
			return fault.New(at+"/notes", "at most 400 letters")
		}
		if err := p.Part.Loose(); err != nil {
			return fault.Under(at+"/part", err)
		}
		row, err := parts.Row(p.Part, p.Maker, p.Name, p.Notes)
		if err != nil {
			return err
		}
		if !have[id(row)] {
			have[id(row)] = true
			in.Parts = append(in.Parts, row)
		}
	}
	return nil
}

func (s *Room) readCards(ctx context.Context, a *archive.Archive, in *store.Shop) error {
	var cards []shopCard
	if err := shopJSON(a, cardsFile, &cards); err != nil {
		return err
	}
	here, err := s.store.EveryCard(ctx)
	if err != nil {
		return err
	}
	have := map[string]bool{}
	text := func(c workcard.Card) string {
		b, err := json.Marshal(c)
		if err != nil {
			return ""
		}
		return string(b)
	}
	for _, c := range here {
		have[text(c.Card)] = true
	}
	for i, c := range cards {
		at := fmt.Sprintf("%s/%d", cardsFile, i)
		if err := c.Card.Check(); err != nil {
			return fault.Under(at+"/card", err)
		}
		if err := checkDate(c.At, "/"+at+"/at"); err != nil {
			return err
		}
		if c.By == "" || utf8.RuneCountInString(c.By) > 100 {
			return fault.New(at+"/by", "who saved it, in at most 100 letters")
		}
		if !have[text(c.Card)] {
			have[text(c.Card)] = true
			in.Cards = append(in.Cards, store.Card{Card: c.Card, By: c.By, At: c.At.UTC()})
		}
	}
	return nil
}

func (s *Room) readFilters(ctx context.Context, a *archive.Archive, in *store.Shop) error {
	var filters []shopFilter
	if err := shopJSON(a, filtersFile, &filters); err != nil {
		return err
	}
	here, err := s.store.Filters(ctx)
	if err != nil {
		return err
	}
	have := map[string]bool{}
	for _, f := range here {
		have[strings.ToLower(f.Name)] = true
	}
	for i, f := range filters {
		at := fmt.Sprintf("%s/%d", filtersFile, i)
		body, err := json.Marshal(api.NewFilter{Name: f.Name, Query: f.Query})
		if err != nil {
			return err
		}
		if err := door.KeepsSchema(s.schemas["NewFilter"].Value, body); err != nil {
			return inFile(at, err)
		}
		if err := checkDate(f.At, "/"+at+"/at"); err != nil {
			return err
		}
		if utf8.RuneCountInString(f.By) > 100 {
			return fault.New(at+"/by", "at most 100 letters")
		}
		if !have[strings.ToLower(f.Name)] {
			have[strings.ToLower(f.Name)] = true
			in.Filters = append(in.Filters, store.Filter{Name: f.Name, Query: f.Query, By: f.By, At: f.At.UTC()})
		}
	}
	if len(here)+len(in.Filters) > store.MostFilters {
		return fault.New(filtersFile, "a shop saves at most %d filters", store.MostFilters)
	}
	return nil
}
