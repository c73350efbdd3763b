// Command pages keeps what a running demonstration answers, one file an address, so that two builds can be compared with diff -r.
// It follows every link from the first page, a few of each address that differ in their query, in the order they are met.
//
//	go run ./tools/pages -at http://127.0.0.1:8080 -as osei -out DIR
package main

import (
	"crypto/sha256"
	"flag"
	"fmt"
	"html"
	"io"
	"log"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"path/filepath"
	"regexp"
	"strings"
)

var (
	links  = regexp.MustCompile(`(?:href|src|hx-get)="(/[^"#]*)`)
	spaces = regexp.MustCompile(`\s+`)
	edges  = regexp.MustCompile(`> | <`)
	masks  = []*regexp.Regexp{ // what differs from one run to the next
		regexp.MustCompile(`name="(?:_csrf|csrf-token)" (?:value|content)="[^"]*"`), regexp.MustCompile(`data-token="[^"]*"`),
		regexp.MustCompile(`/assets/[\w./-]+`), regexp.MustCompile(`\b\d\d:\d\d(?::\d\d)?(?:\.\d+)?Z?\b`),
	}
)

type walk struct {
	client *http.Client
	at     string
	out    string
	most   int
	queue  []string
	seen   map[string]bool
	times  map[string]int
}

func main() {
	log.SetFlags(0)
	w := walk{seen: map[string]bool{}, times: map[string]int{}}
	as := flag.String("as", "osei", "login of the person who walks")
	flag.StringVar(&w.at, "at", "http://127.0.0.1:8080", "address of the demonstration")
	flag.StringVar(&w.out, "out", "pages", "folder to write to")
	flag.IntVar(&w.most, "most", 4, "addresses of one path that differ in their query")
	flag.Parse()
	jar, _ := cookiejar.New(nil)
	w.client = &http.Client{Jar: jar}
	if err := w.run(*as); err != nil {
		log.Fatal(err)
	}
}

func (w *walk) run(as string) error {
	if err := os.MkdirAll(w.out, 0o755); err != nil {
		return err
	}
	answer, err := w.client.PostForm(w.at+"/enter", url.Values{"login": {as}})
	if err != nil {
		return err
	}
	answer.Body.Close()
	w.add("/")
	for len(w.queue) > 0 {
		address := w.queue[0]
		w.queue = w.queue[1:]
		if err := w.visit(address); err != nil {
			return fmt.Errorf("%s: %w", address, err)
		}
	}
	fmt.Printf("%d addresses\n", len(w.seen))
	return nil
}

// add puts an address at the end unless it was met, or its path often enough.
func (w *walk) add(address string) {
	path, _, _ := strings.Cut(address, "?")
	if w.seen[address] || w.times[path] >= w.most || strings.HasPrefix(path, "/assets/") || strings.HasPrefix(path, "/leave") {
		return
	}
	w.seen[address] = true
	w.times[path]++
	w.queue = append(w.queue, address)
}

func (w *walk) visit(address string) error {
	answer, err := w.client.Get(w.at + address)
	if err != nil {
		return err
	}
	defer answer.Body.Close()
	body, err := io.ReadAll(answer.Body)
	if err != nil {
		return err
	}
	if kind := answer.Header.Get("Content-Type"); strings.HasPrefix(kind, "text/html") {
		for _, m := range links.FindAllSubmatch(body, -1) {
			w.add(html.UnescapeString(string(m[1])))
		}
		body = fold(body)
	}
	head := fmt.Sprintf("%s\n%d %s\n", address, answer.StatusCode, answer.Header.Get("Content-Type"))
	name := strings.Map(func(r rune) rune {
		if strings.ContainsRune(`/?&=%:*"<>|`, r) {
			return '_'
		}
		return r
	}, strings.TrimPrefix(address, "/"))
	if len(name) > 120 {
		name = fmt.Sprintf("%s-%x", name[:120], sha256.Sum256([]byte(name)))[:150]
	}
	return os.WriteFile(filepath.Join(w.out, name+".txt"), append([]byte(head), body...), 0o644)
}

// fold leaves white space out that a page does not show, and what each run makes anew; a line for each tag makes a diff readable.
func fold(body []byte) []byte {
	for _, m := range masks {
		body = m.ReplaceAll(body, []byte("-"))
	}
	body = spaces.ReplaceAll(body, []byte(" "))
	body = edges.ReplaceAllFunc(body, func(b []byte) []byte { return []byte(strings.TrimSpace(string(b))) })
	return []byte(strings.ReplaceAll(string(body), "><", ">\n<"))
}
