package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"os"
	"strconv"
	"strings"

	"github.com/spf13/cobra"

	"zorvel/core/film"
	"zorvel/core/live"
)

func filmCommand() *cobra.Command {
	var rate float64
	var boxes []string
	var other string
	c := &cobra.Command{
		Use:   "film FILE.mjpeg --box left=4,15,89,89 --box shaft=93,40,53,53",
		Short: "Count turning discs in a recorded film of JPEG pictures, as the camera on the bench does",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if !(rate > 0 && rate <= 1000) {
				return errors.New("--rate is pictures a second, up to 1000")
			}
			watch, err := readBoxes(boxes)
			if err != nil {
				return err
			}
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			f, err := lookAt(data, rate, watch)
			if err != nil {
				return err
			}
			out := struct {
				Discs []film.Disc  `json:"discs"`
				Live  *live.Answer `json:"live,omitempty"`
			}{Discs: f.Discs()}
			if rec := f.Recording(); len(rec.Sources) > 0 {
				rec.Other = &live.Other{Does: live.Does(other), Seen: true}
				if out.Live, err = live.Weigh(rec); err != nil {
					return err
				}
			}
			e := json.NewEncoder(c.OutOrStdout())
			e.SetIndent("", " ")
			return e.Encode(out)
		},
	}
	c.Flags().Float64Var(&rate, "rate", 30, "pictures a second")
	c.Flags().StringArrayVar(&boxes, "box", nil, "a disc: shaft (shaft, left, right or output) = x,y,width,height in pixels, "+
		"and :marks where it bears more than one")
	c.Flags().StringVar(&other, "other", "with", "what the wheel that isn't seen does: with (it turns too) or held")
	return c
}

// readBoxes reads discs as they are given on the command line.
func readBoxes(list []string) ([]film.Watch, error) {
	var out []film.Watch
	for _, s := range list {
		shaft, rest, ok := strings.Cut(s, "=")
		place, marks, many := strings.Cut(rest, ":")
		w := film.Watch{Shaft: live.Shaft(shaft), Marks: 1}
		f := strings.Split(place, ",")
		if !ok || len(f) != 4 {
			return nil, fmt.Errorf("--box %q: give it as left=x,y,width,height", s)
		}
		var err error
		for i, to := range []*float64{&w.Box.X, &w.Box.Y, &w.Box.W, &w.Box.H} {
			v, bad := strconv.ParseFloat(strings.TrimSpace(f[i]), 64)
			*to, err = v, errors.Join(err, bad)
		}
		if many {
			n, bad := strconv.Atoi(marks)
			w.Marks, err = n, errors.Join(err, bad)
		}
		if err != nil {
			return nil, fmt.Errorf("--box %q: %w", s, err)
		}
		out = append(out, w)
	}
	return out, nil
}

// lookAt follows discs through a chain of JPEG pictures.
func lookAt(data []byte, rate float64, watch []film.Watch) (*film.Film, error) {
	var f *film.Film
	for n := 0; ; n++ {
		end := bytes.Index(data, []byte{0xff, 0xd9})
		if end < 0 {
			break
		}
		img, err := jpeg.Decode(bytes.NewReader(data[:end+2]))
		if err != nil {
			return nil, fmt.Errorf("picture %d: %w", n+1, err)
		}
		data = data[end+2:]
		p := gray(img)
		if f == nil {
			if f, err = film.New(p.Width, p.Height, watch); err != nil {
				return nil, err
			}
		}
		if err := f.See(p, float64(n)/rate); err != nil {
			return nil, err
		}
	}
	if f == nil {
		return nil, errors.New("the file holds no JPEG picture")
	}
	return f, nil
}

func gray(img image.Image) film.Picture {
	b := img.Bounds()
	p := film.Picture{Width: b.Dx(), Height: b.Dy(), Gray: make([]uint8, 0, b.Dx()*b.Dy())}
	for y := b.Min.Y; y < b.Max.Y; y++ {
		for x := b.Min.X; x < b.Max.X; x++ {
			r, g, bl, _ := img.At(x, y).RGBA()
			p.Gray = append(p.Gray, uint8((299*r+587*g+114*bl)/1000>>8))
		}
	}
	return p
}
