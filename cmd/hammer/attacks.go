package main

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"io"
	"net/http"
	"strings"
	"sync"
	"sync/atomic"
)

// picture is a small photo, as it is sent.
func picture(shade uint8) string {
	img := image.NewGray(image.Rect(0, 0, 64, 48))
	for i := range img.Pix {
		img.Pix[i] = shade + uint8(i)
	}
	var b bytes.Buffer
	_ = jpeg.Encode(&b, img, nil) // a buffer takes everything
	return base64.StdEncoding.EncodeToString(b.Bytes())
}

// made is the number of what a request made.
func (in *instance) made(method, path, body string) (int, error) {
	status, b, err := in.do(method, path, body)
	if err == nil && status >= 300 {
		err = fmt.Errorf("%s %s: %d %s", method, path, status, b)
	}
	if err != nil {
		return 0, err
	}
	var x struct {
		ID  int
		Job struct{ ID int }
	}
	if err := json.Unmarshal(b, &x); err != nil {
		return 0, err
	}
	return max(x.ID, x.Job.ID), nil
}

// usedKeys sends something else under keys that were used: nothing may be
// acknowledged that isn't kept.
func usedKeys(in *instance) (line, error) {
	l := line{what: "other things under used keys", wrong: "acknowledged, and gone"}
	unit, err := in.made("POST", "/units", `{"name":"Used keys","kind":"truck","layout":"rear_drive"}`)
	if err != nil {
		return l, err
	}
	at := fmt.Sprintf("/units/%d", unit)
	job, err := in.made("POST", at+"/jobs", `{"key":"used-key-1","complaint":"one"}`)
	if err != nil {
		return l, err
	}
	_, b, err := in.do("GET", at, "")
	if err != nil {
		return l, err
	}
	var u struct{ Stages []struct{ ID int } }
	if err := json.Unmarshal(b, &u); err != nil {
		return l, err
	}
	for n := range 40 {
		for _, t := range [][2]string{
			{fmt.Sprintf("/jobs/%d/entries", job), `{"key":"used-key-%d","kind":"note","text":"%s"}`},
			{at + "/service", `{"key":"used-key-%d","kind":"service","what":"oil","text":"%s"}`},
			{fmt.Sprintf("/stages/%d/readings", u.Stages[0].ID), `{"readings":[{"key":"used-key-%d","note":"%s","reading":{"method":"tag","text":"4.10"}}]}`},
			{at + "/photos", `{"key":"used-key-%d","title":"%s","image":"` + picture(7) + `"}`},
		} {
			for i, words := range []string{"first", "first", "another"} {
				status, told, err := in.do("POST", t[0], fmt.Sprintf(t[1], n, words))
				if err != nil {
					return l, err
				}
				if i == 2 {
					l.tried++
				}
				if (i == 2) != (status == 409) || status >= 500 {
					l.broken++
					fmt.Printf("%d %s, %s: %.200s\n", status, t[0], words, told)
				}
			}
		}
	}
	return l, nil
}

// zeros is a long text that takes no memory at its sender.
type zeros struct{ left int }

func (z *zeros) Read(b []byte) (int, error) {
	if z.left == 0 {
		return 0, io.EOF
	}
	n := min(len(b), z.left)
	for i := range b[:n] {
		b[i] = '0'
	}
	z.left -= n
	return n, nil
}

// largeBodies sends many of them at once, without an account: what isn't answered
// is told to come back.
func largeBodies(in *instance) (line, error) {
	l := line{what: "bodies of 15 MB at once, without an account", wrong: "neither answered nor told to come back"}
	var wg sync.WaitGroup
	var broken atomic.Int64
	for range 40 {
		l.tried++
		wg.Go(func() {
			body := io.MultiReader(strings.NewReader(`{"text":"`), &zeros{15 << 20}, strings.NewReader(`"}`))
			req, err := http.NewRequestWithContext(context.Background(), http.MethodPost, in.base+"/api/v1/calc/propeller/recorded", body)
			if err != nil {
				broken.Add(1)
				return
			}
			req.Header.Set("Content-Type", "application/json")
			res, err := http.DefaultClient.Do(req)
			if err != nil {
				fmt.Println(err)
				broken.Add(1)
				return
			}
			_, _ = io.Copy(io.Discard, res.Body)
			_ = res.Body.Close()
			if res.StatusCode >= 500 {
				broken.Add(1)
			}
		})
	}
	wg.Wait()
	l.broken = int(broken.Load())
	return l, nil
}
