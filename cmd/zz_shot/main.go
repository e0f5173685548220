package main

// usage: shot out.png WxH scheme path [js...]
import (
	"context"
	"fmt"
	"os"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
)

func main() {
	out, size, scheme, path := os.Args[1], os.Args[2], os.Args[3], os.Args[4]
	var w, h int64
	fmt.Sscanf(size, "%dx%d", &w, &h)
	opts := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.ExecPath("/usr/bin/chromium"), chromedp.NoSandbox, chromedp.Flag("disable-dev-shm-usage", true))
	a, c := chromedp.NewExecAllocator(context.Background(), opts...)
	defer c()
	ctx, c2 := chromedp.NewContext(a)
	defer c2()
	ctx, c3 := context.WithTimeout(ctx, 90*time.Second)
	defer c3()
	base := "http://127.0.0.1:8090"
	acts := []chromedp.Action{
		emulation.SetDeviceMetricsOverride(w, h, 1, false),
		chromedp.Navigate(base + "/sign-in"),
		chromedp.Sleep(700 * time.Millisecond),
		chromedp.Evaluate(`localStorage.setItem("mantine-color-scheme-value","`+scheme+`"); fetch("/api/v1/session",{method:"POST",headers:{"content-type":"application/json"},body:JSON.stringify({email:"`+os.Getenv("MAIL")+`",password:"`+os.Getenv("PASS")+`"})}).then(r=>r.status)`, nil),
		chromedp.Sleep(900 * time.Millisecond),
		chromedp.Navigate(base + path),
		chromedp.Sleep(1800 * time.Millisecond),
	}
	for _, js := range os.Args[5:] {
		var res any
		acts = append(acts, chromedp.Evaluate(js, &res), chromedp.ActionFunc(func(context.Context) error { if res != nil { fmt.Println(res) }; return nil }), chromedp.Sleep(1200*time.Millisecond))
	}
	var png []byte
	if os.Getenv("FULL") != "" {
		acts = append(acts, chromedp.FullScreenshot(&png, 100))
	} else {
		acts = append(acts, chromedp.CaptureScreenshot(&png))
	}
	if err := chromedp.Run(ctx, acts...); err != nil {
		fmt.Println("ERR", err)
	}
	os.WriteFile(out, png, 0o644)
}
