package paper

import (
	"bytes"
	"fmt"

	"github.com/go-pdf/fpdf"
)

// Photo is a picture on a sheet, as JPEG.
type Photo struct {
	Title         string
	JPEG          []byte
	Width, Height int // px
}

// photos sets pictures two to a row, each with its title. One that can't be read is left
// out by its title alone.
func (p *Sheet) photos(list []Photo) {
	if len(list) == 0 {
		return
	}
	p.Head("Photos")
	const gap, most = 6.0, 62.0
	w := (p.Width - gap) / 2
	for i := 0; i < len(list); i += 2 {
		row := list[i:min(i+2, len(list))]
		high := 0.0
		for _, x := range row {
			high = max(high, x.height(w, most))
		}
		if p.GetY()+high+8 > 278 {
			p.AddPage()
		}
		top := p.GetY()
		for k, x := range row {
			left := 16 + float64(k)*(w+gap)
			p.photo(fmt.Sprintf("photo %d", i+k), x, left, top, w, most)
			p.SetXY(left, top+high+1)
			p.SetFont("go", "", 9)
			p.CellFormat(w, 5, fit(p, x.Title, w), "", 0, "L", false, 0, "")
		}
		p.SetXY(16, top+high+8)
	}
}

// height is how high it stands at a width, mm.
func (x Photo) height(w, most float64) float64 {
	if x.Width <= 0 || x.Height <= 0 {
		return 0
	}
	return min(most, w*float64(x.Height)/float64(x.Width))
}

func (p *Sheet) photo(name string, x Photo, left, top, w, most float64) {
	h := x.height(w, most)
	if h == 0 {
		return
	}
	p.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "JPG"}, bytes.NewReader(x.JPEG))
	if p.Err() {
		p.ClearError()
		return
	}
	p.ImageOptions(name, left, top, h*float64(x.Width)/float64(x.Height), h, false, fpdf.ImageOptions{ImageType: "JPG"}, 0, "")
}

// fit shortens a text to a width.
func fit(p *Sheet, s string, w float64) string {
	r := []rune(printable(s))
	for len(r) > 1 && p.GetStringWidth(string(r)) > w {
		r = r[:len(r)-1]
	}
	return string(r)
}
