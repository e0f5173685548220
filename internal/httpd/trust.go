package httpd

import (
	"html/template"
	"net"
	"net/http"
	"strings"
)

// trustPage needs neither scripts nor the application: a phone reads it before it trusts
// anything here.
var trustPage = template.Must(template.New("trust").Parse(`<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Trust this shop's Zorvel</title>
<style>
body { margin: 0; background: #f2efe6; color: #182a2d; font: 18px/1.5 system-ui, sans-serif }
main { max-width: 34rem; margin: 0 auto; padding: 1.2rem }
h1 { font-size: 1.6rem; line-height: 1.2 } h2 { font-size: 1.15rem; margin: 1.6rem 0 .3rem }
a.do { display: grid; place-items: center; min-height: 48px; line-height: 1.3; padding: .4rem 1rem;
  background: #1f3b41; color: #fff; text-align: center; text-decoration: none; font-weight: 600 }
ol { padding-left: 1.3rem } code { overflow-wrap: anywhere; font-size: .85rem }
@media (prefers-color-scheme: dark) { body { background: #14221f; color: #eae6da } a.do { background: #e9b13b; color: #182a2d } }
</style></head><body><main>
<h1>Trust this shop's Zorvel</h1>
<p>Do this once on each phone. Then Zorvel opens without a warning, can be installed, and may use camera and motion sensors.</p>
<p><a class="do" href="/trust/zorvel-authority.crt">1. Download the shop's certificate</a></p>
<h2>Phone that says “Profile Downloaded”</h2>
<ol><li>Settings, at the top: open the downloaded profile and install it.</li>
<li>Settings, General, About, Certificate Trust Settings: turn on <b>Zorvel shop authority</b>.</li></ol>
<h2>Any other phone or tablet</h2>
<ol><li>Settings: search for <b>CA certificate</b> (under Security, Install from storage).</li>
<li>Confirm, and pick <b>zorvel-authority.crt</b> from the downloads.</li></ol>
<h2>Then</h2>
<p><a class="do" href="{{.Open}}">2. Open Zorvel</a></p>
<p>The certificate is good for this shop's own server and nothing else. Compare its SHA-256 with the page <b>On phones</b> in the shop:</p>
<p><code>{{.Fingerprint}}</code></p>
</main></body></html>
`))

// Trust answers on the plain address of a server that is reached over HTTPS: the page and
// the certificate that a phone needs first. Everything else is sent to the secure port.
func Trust(authority []byte, fingerprint string, securePort string) http.Handler {
	secure := func(r *http.Request) string {
		host := r.Host
		if h, _, err := net.SplitHostPort(host); err == nil {
			host = h
		}
		host = strings.Trim(host, "[]")
		return "https://" + net.JoinHostPort(host, securePort)
	}
	mux := http.NewServeMux()
	if authority != nil {
		mux.HandleFunc("GET /trust", func(w http.ResponseWriter, r *http.Request) {
			h := w.Header()
			h.Set("Content-Type", "text/html; charset=utf-8")
			h.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; base-uri 'none'; frame-ancestors 'none'")
			h.Set("Cache-Control", "no-store")
			_ = trustPage.Execute(w, map[string]string{"Open": secure(r), "Fingerprint": fingerprint})
		})
		mux.HandleFunc("GET /trust/zorvel-authority.crt", func(w http.ResponseWriter, _ *http.Request) {
			h := w.Header()
			h.Set("Content-Type", "application/x-x509-ca-cert")
			h.Set("Content-Disposition", `attachment; filename="zorvel-authority.crt"`)
			h.Set("Cache-Control", "no-store")
			_, _ = w.Write(authority)
		})
	}
	mux.HandleFunc("/", func(w http.ResponseWriter, r *http.Request) {
		if r.Method != http.MethodGet && r.Method != http.MethodHead {
			http.Error(w, "Only the secure address takes this.", http.StatusMisdirectedRequest)
			return
		}
		w.Header().Set("Cache-Control", "no-store")
		http.Redirect(w, r, secure(r)+r.URL.RequestURI(), http.StatusTemporaryRedirect)
	})
	return mux
}
