package httpd

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
)

func TestTrust(t *testing.T) {
	h := Trust([]byte("der"), "AA:BB", "8443")
	ask := func(method, path, host string) *httptest.ResponseRecorder {
		r := httptest.NewRequest(method, path, nil)
		r.Host = host
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		return w
	}
	page := ask("GET", "/trust", "shop.local:8080")
	for _, want := range []string{"AA:BB", `href="https://shop.local:8443"`, `/trust/zorvel-authority.crt`} {
		if !strings.Contains(page.Body.String(), want) {
			t.Errorf("the page lacks %q", want)
		}
	}
	if c := ask("GET", "/trust/zorvel-authority.crt", "shop.local"); c.Body.String() != "der" ||
		c.Header().Get("Content-Type") != "application/x-x509-ca-cert" {
		t.Errorf("the certificate: %d %v", c.Code, c.Header())
	}
	for _, x := range []struct{ path, host, want string }{
		{"/units/8?view=grip", "shop.local:8080", "https://shop.local:8443/units/8?view=grip"},
		{"/", "192.168.7.20", "https://192.168.7.20:8443/"},
		{"//elsewhere.example/x", "shop.local", "https://shop.local:8443//elsewhere.example/x"},
		{"/api/v1/units", "[::1]:8080", "https://[::1]:8443/api/v1/units"},
	} {
		w := ask("GET", x.path, x.host)
		if got := w.Header().Get("Location"); got != x.want && !strings.HasPrefix(got, "/") {
			t.Errorf("%s at %s goes to %q, want %q", x.path, x.host, got, x.want)
		}
	}
	// A password that was sent in the clear is not sent on.
	if w := ask("POST", "/api/v1/session", "shop.local"); w.Code != http.StatusMisdirectedRequest || w.Header().Get("Location") != "" {
		t.Errorf("POST: %d", w.Code)
	}
	// Hostile hosts stay text.
	if w := ask("GET", "/trust", `"><script>x</script>`); strings.Contains(w.Body.String(), "<script>") {
		t.Error("a host becomes a script")
	}
	if w := httptest.NewRecorder(); true {
		Trust(nil, "", "8443").ServeHTTP(w, httptest.NewRequest("GET", "/trust", nil))
		if w.Code != http.StatusTemporaryRedirect {
			t.Errorf("without an authority of its own: %d", w.Code)
		}
	}
}
