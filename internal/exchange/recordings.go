package exchange

import (
	"archive/zip"
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"zorvel/api"
	"zorvel/internal/archive"
	"zorvel/internal/problem"
	"zorvel/internal/sound"
	"zorvel/internal/store"
)

// documentRecordings names a unit's recordings, oldest first, each with its file.
func (s *Room) documentRecordings(ctx context.Context, id int64) (list []store.Recording, named []api.DocumentRecording,
	err error) {
	if list, err = s.store.Recordings(ctx, id); err != nil {
		return nil, nil, err
	}
	slices.Reverse(list)
	for i, r := range list {
		x := api.DocumentRecording{File: fmt.Sprintf("recordings/%03d.wav", i+1), Title: r.Title, Named: r.Named,
			By: r.By,
			At: r.At}
		if err := store.Read(fmt.Sprintf("what recording %d was named by", r.ID), r.Drive, &x.Drive); err != nil {
			return nil, nil, err
		}
		named = append(named, x)
	}
	return list, named, nil
}

// putSounds writes the files of recordings.
func (s *Room) putSounds(ctx context.Context, z *zip.Writer, folder string, list []store.Recording,
	named []api.DocumentRecording) error {
	for i, r := range list {
		data, err := s.store.Sound(ctx, r.ID)
		if err != nil {
			return err
		}
		if err := putFile(z, folder+named[i].File, zip.Deflate, data); err != nil {
			return err
		}
	}
	return nil
}

// readRecording judges what a document says of a recording, and its file.
func readRecording(a *archive.Archive, file string, x api.DocumentRecording, at string) (store.ImportRecording, error) {
	var r store.ImportRecording
	if err := checkDate(x.At, at+"/at"); err != nil {
		return r, err
	}
	drive, err := json.Marshal(x.Drive)
	if err != nil {
		return r, err
	}
	r.WAV = func() ([]byte, error) {
		data, err := a.Read(file, sound.MostBytes)
		if err != nil {
			return nil, err
		}
		wav, _, err := sound.Plain(data)
		return wav, err
	}
	data, err := a.Read(file, sound.MostBytes)
	if err != nil {
		return r, problem.Field(at+"/file", err.Error())
	}
	_, seconds, err := sound.Plain(data)
	if err != nil {
		return r, problem.Field(at+"/file", file+": "+err.Error())
	}
	r.Recording = store.Recording{Title: x.Title, Named: x.Named, Seconds: seconds, Drive: drive, By: x.By,
		At: x.At.UTC()}
	return r, nil
}
