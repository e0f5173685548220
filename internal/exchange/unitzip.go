package exchange

import (
	"archive/zip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"time"

	"zorvel/api"
	"zorvel/core/driveline"
	"zorvel/core/marks"
	"zorvel/internal/archive"
	"zorvel/internal/door"
	"zorvel/internal/httpd"
	"zorvel/internal/photo"
	"zorvel/internal/problem"
	"zorvel/internal/signin"
	"zorvel/internal/store"
)

// A unit with its photos and recordings is an archive: unit.json, which is the unit's
// document with them named, and their files under photos/ and recordings/.

const (
	unitFile     = "unit.json"
	mostUnitFile = 64 << 20
)

// one unit's archive at most.
var unitLimits = archive.Limits{Files: store.MostPhotos + store.MostRecordings + 50, Bytes: 1 << 30}

// ExportUnitZip gives a unit with its photos and recordings.
func (s *Room) ExportUnitZip(ctx context.Context, r api.ExportUnitZipRequestObject) (api.ExportUnitZipResponseObject, error) {
	name, err := s.store.UnitName(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	signin.Note(ctx, s.store, unitExported, name+", with photos")
	body := s.streamed(ctx, func(z *zip.Writer) error {
		return s.writeUnit(ctx, z, "", r.Id)
	})
	return api.ExportUnitZip200ApplicationzipResponse{Body: body}, nil
}

// streamed is an archive that is written while it is sent. Where writing fails it
// breaks off, so that what came is seen not to be whole.
func (s *Room) streamed(ctx context.Context, write func(*zip.Writer) error) io.Reader {
	r, w := io.Pipe()
	go func() {
		z := zip.NewWriter(w)
		err := write(z)
		if err == nil {
			err = z.Close()
		}
		if err != nil && ctx.Err() == nil {
			s.log.Error("an archive broke off", "error", err)
		}
		w.CloseWithError(err)
	}()
	context.AfterFunc(ctx, func() { _ = r.CloseWithError(ctx.Err()) })
	return r
}

// stamped is when files of an archive are dated: not at all, so that the same shop
// makes the same archive.
var stamped = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)

func putFile(z *zip.Writer, name string, method uint16, data []byte) error {
	w, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: method, Modified: stamped})
	if err != nil {
		return err
	}
	_, err = w.Write(data)
	return err
}

func putJSON(z *zip.Writer, name string, v any) error {
	text, err := json.MarshalIndent(v, "", "  ")
	if err != nil {
		return err
	}
	return putFile(z, name, zip.Deflate, append(text, '\n'))
}

// writeUnit writes a unit's document, photos and recordings under a folder.
func (s *Room) writeUnit(ctx context.Context, z *zip.Writer, folder string, id int64) error {
	doc, at, err := s.document(ctx, id)
	if err != nil {
		return err
	}
	list, photos, err := s.documentPhotos(ctx, id, at)
	if err != nil {
		return err
	}
	if photos != nil {
		doc.Photos = &photos
	}
	heard, recordings, err := s.documentRecordings(ctx, id)
	if err != nil {
		return err
	}
	if recordings != nil {
		doc.Recordings = &recordings
	}
	if err := putJSON(z, folder+unitFile, doc); err != nil {
		return err
	}
	for i, p := range list {
		data, err := s.store.Picture(ctx, p.ID, "full")
		if err != nil {
			return err
		}
		if err := putFile(z, folder+photos[i].File, zip.Store, data); err != nil {
			return err
		}
	}
	return s.putSounds(ctx, z, folder, heard, recordings)
}

// documentPhotos names a unit's photos, oldest first, each with its file.
func (s *Room) documentPhotos(ctx context.Context, id int64, at places) (list []store.Photo, photos []api.DocumentPhoto,
	err error) {
	if list, err = s.store.Photos(ctx, id); err != nil {
		return nil, nil, err
	}
	slices.Reverse(list)
	for i, p := range list {
		x := api.DocumentPhoto{File: fmt.Sprintf("photos/%03d.jpg", i+1), Title: api.Some(p.Title), Part: api.Some(p.Part),
			Points: []marks.Point{}, By: p.By, At: p.At, Job: api.Some(at.jobs[p.JobID]), Step: api.Some(p.Of.Step)}
		if err := store.Read(fmt.Sprintf("the marks of photo %d", p.ID), p.Marks, &x.Points); err != nil {
			return nil, nil, err
		}
		if w, ok := at.work[p.Of.Work]; ok {
			x.Job, x.Work = &w[0], &w[1]
		}
		if r, ok := at.readings[p.Of.Reading]; ok {
			x.Measured, x.Reading = &r[0], &r[1]
		}
		if x.Card = api.Some(at.runs[p.Of.Run]); x.Card == nil {
			x.Step = nil
		}
		photos = append(photos, x)
	}
	return list, photos, nil
}

// ImportUnitZip imports a unit with its photos and recordings.
func (s *Room) ImportUnitZip(ctx context.Context, r api.ImportUnitZipRequestObject) (api.ImportUnitZipResponseObject, error) {
	p := signin.Person(ctx)
	a, err := httpd.Archived(r.Body, unitLimits)
	if err != nil {
		return nil, err
	}
	in, named, err := s.readUnit(ctx, a, "", p.Name, takenInTold, true)
	if err != nil {
		return nil, err
	}
	for _, n := range a.Names() {
		if !named[n] {
			return nil, problem.Field("", fmt.Sprintf("%s is in the archive, and its document doesn't name it", n))
		}
	}
	id, err := s.store.ImportUnit(ctx, in)
	if err != nil {
		return nil, err
	}
	out, err := s.units.Load(ctx, id)
	return api.ImportUnitZip201JSONResponse(out), err
}

// readUnit judges a unit in an archive: its document, its recordings and, where looked,
// every photo of it. named are the files that belong to it.
func (s *Room) readUnit(ctx context.Context, a *archive.Archive, folder, by, told string, look bool) (in store.Import,
	named map[string]bool, err error) {
	if !a.Has(folder + unitFile) {
		return in, nil, problem.Field("", folder+unitFile+" is missing in the archive")
	}
	text, err := a.Read(folder+unitFile, mostUnitFile)
	if err != nil {
		return in, nil, problem.Field("", err.Error())
	}
	doc, err := s.unitDocument(text)
	if err != nil {
		return in, nil, err
	}
	if in, err = s.read(doc, by, told); err != nil {
		return in, nil, err
	}
	named = map[string]bool{folder + unitFile: true}
	for i, x := range api.Value(doc.Photos) {
		at := fmt.Sprintf("/photos/%d", i)
		file := folder + x.File
		if named[file] {
			return in, nil, problem.Field(at+"/file", "another photo of the document has this file")
		}
		if named[file] = true; !a.Has(file) {
			return in, nil, problem.Field(at+"/file", file+" is missing in the archive")
		}
		p, err := readPhoto(a, file, x, at, doc)
		if err != nil {
			return in, nil, err
		}
		if look {
			if err := ctx.Err(); err != nil {
				return in, nil, err
			}
			if _, _, err := p.Picture(); err != nil {
				return in, nil, problem.Field(at+"/file", file+": "+err.Error())
			}
		}
		in.Photos = append(in.Photos, p)
	}
	for i, x := range api.Value(doc.Recordings) {
		at := fmt.Sprintf("/recordings/%d", i)
		file := folder + x.File
		if named[file] {
			return in, nil, problem.Field(at+"/file", "another recording of the document has this file")
		}
		if named[file] = true; !a.Has(file) {
			return in, nil, problem.Field(at+"/file", file+" is missing in the archive")
		}
		r, err := readRecording(a, file, x, at)
		if err != nil {
			return in, nil, err
		}
		in.Heard = append(in.Heard, r)
	}
	return in, named, nil
}

// readPhoto judges what a document says of a photo.
func readPhoto(a *archive.Archive, file string, x api.DocumentPhoto, at string, doc api.UnitDocument) (store.ImportPhoto, error) {
	p := store.ImportPhoto{Job: api.Value(x.Job), Work: api.Value(x.Work), Measured: api.Value(x.Measured),
		Reading: api.Value(x.Reading), Card: api.Value(x.Card)}
	if err := checkDate(x.At, at+"/at"); err != nil {
		return p, err
	}
	jobs, measured, cards := api.Value(doc.Jobs), api.Value(doc.Measured), api.Value(doc.Cards)
	given := 0
	for _, is := range []bool{p.Work > 0, p.Reading > 0, p.Card > 0} {
		if is {
			given++
		}
	}
	switch {
	case p.Job > len(jobs):
		return p, problem.Field(at+"/job", fmt.Sprintf("the document has %d jobs", len(jobs)))
	case p.Work > 0 && p.Job == 0, p.Work > 0 && p.Work > len(jobs[p.Job-1].Work):
		return p, problem.Field(at+"/work", "the place of a line of the photo's job")
	case p.Measured > len(measured):
		return p, problem.Field(at+"/measured", fmt.Sprintf("the document has %d measured ratios", len(measured)))
	case (p.Measured > 0) != (p.Reading > 0), p.Reading > 0 && p.Reading > len(measured[p.Measured-1].Readings):
		return p, problem.Field(at+"/reading", "the place of a reading of the ratio at measured")
	case p.Card > len(cards):
		return p, problem.Field(at+"/card", fmt.Sprintf("the document has %d cards", len(cards)))
	case (p.Card > 0) != (api.Value(x.Step) != ""):
		return p, problem.Field(at+"/step", "the step of the photo's card, and only with one")
	case given > 1:
		return p, problem.Field(at, "a photo is the evidence of one thing: a reading, a line of a job, or a step of a card")
	}
	if part := api.Value(x.Part); part != "" && doc.Driveline != nil &&
		!slices.ContainsFunc(doc.Driveline.Document.Parts, func(q driveline.Part) bool { return q.ID == part }) {
		// A part that was taken out since is no part any more; the photo stays the unit's.
		x.Part = nil
	}
	points, err := json.Marshal(api.List(x.Points))
	if err != nil {
		return p, err
	}
	p.Photo = store.Photo{Part: api.Value(x.Part), Title: api.Value(x.Title), Marks: points, By: x.By, At: x.At.UTC(),
		Of: store.Evidence{Step: api.Value(x.Step)}}
	head, err := a.Read(file, photo.MostBytes)
	if err != nil {
		return p, problem.Field(at+"/file", err.Error())
	}
	if p.Photo.Width, p.Photo.Height, err = photo.Size(head); err != nil {
		return p, problem.Field(at+"/file", err.Error())
	}
	for k, q := range x.Points {
		if !(q.X >= 0 && q.Y >= 0 && q.X <= float64(p.Photo.Width) && q.Y <= float64(p.Photo.Height)) {
			return p, problem.Field(fmt.Sprintf("%s/points/%d", at, k), fmt.Sprintf("a place on the picture, which is %d × %d", p.Photo.Width, p.Photo.Height))
		}
	}
	p.Picture = func() (full, thumb []byte, err error) {
		data, err := a.Read(file, photo.MostBytes)
		if err != nil {
			return nil, nil, err
		}
		pic, err := photo.Again(data)
		if err != nil {
			return nil, nil, err
		}
		return pic.Full, pic.Thumb, nil
	}
	return p, nil
}

// unitDocument reads a document as the door would have.
func (s *Room) unitDocument(text []byte) (api.UnitDocument, error) {
	var doc api.UnitDocument
	if err := door.KeepsSchema(s.schemas["UnitDocument"].Value, text); err != nil {
		return doc, err
	}
	return doc, json.Unmarshal(text, &doc)
}
