package web

import (
	"fmt"
	"html/template"
	"io"
	"io/fs"
	"path"
	"strings"
)

// views are the templates by page, each parsed with the layout and the parts; they are ready before the first request.
type views map[string]*template.Template

// functions are what templates can call: dict gathers names and values for a part that needs several.
var functions = template.FuncMap{"dict": func(pairs ...any) map[string]any {
	m := map[string]any{}
	for i := 0; i+1 < len(pairs); i += 2 {
		m[fmt.Sprint(pairs[i])] = pairs[i+1]
	}
	return m
}}

// parse reads all templates: layout.html and the parts, whose names begin with an underscore, go with every page.
func parse(files fs.FS) (views, error) {
	names, err := fs.Glob(files, "templates/*.html")
	if err != nil {
		return nil, err
	}
	base := []string{"templates/layout.html"}
	var pages []string
	for _, n := range names {
		switch {
		case strings.HasPrefix(path.Base(n), "_"):
			base = append(base, n)
		case n != base[0]:
			pages = append(pages, n)
		}
	}
	v := views{}
	for _, p := range pages {
		t, err := template.New("layout.html").Funcs(functions).ParseFS(files, append(base, p)...)
		if err != nil {
			return nil, err
		}
		v[strings.TrimSuffix(path.Base(p), ".html")] = t
	}
	return v, nil
}

// Load has nothing left to do; it is there for Fiber.
func (v views) Load() error { return nil }

// Render executes a page whole, or the part of it named after a colon, such as "lookout:margin".
func (v views) Render(w io.Writer, name string, data any, _ ...string) error {
	html, part, ok := strings.Cut(name, ":")
	if !ok {
		part = "layout"
	}
	return v[html].ExecuteTemplate(w, part, data)
}
