package register

import (
	"context"
	"slices"
	"strings"
	"unicode"

	"turret/internal/app/access"
	"turret/internal/app/assess"
	"turret/internal/core/measure"
	"turret/internal/core/risk"
)

// LessonStore finds lessons by their words.
type LessonStore interface {
	// FindLessons passes the current lessons that hold any of the words, or each of them where all is set, the best match first.
	FindLessons(ctx context.Context, words []string, all bool, each func(holder int64, l risk.Lesson)) error
}

// Learned is a lesson with the project that it is of, and the words by which it was found.
type Learned struct {
	Project *measure.Project
	risk.Lesson
	Shared []string
}

// mostWords bounds how many words lessons are searched by.
const mostWords = 24

// wordsOf are the words of a text by which something is found: letters and figures, each once, lower case, of three letters or more.
func wordsOf(text string) []string {
	var list []string
	for _, w := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }) {
		if len([]rune(w)) > 2 && !slices.Contains(common, w) && !slices.Contains(list, w) && len(list) < mostWords {
			list = append(list, w)
		}
	}
	return list
}

// common are words that tell nothing of what a text is about.
var common = strings.Fields("the and for with from that this are was were has have had not but its into than then who what when where " +
	"which will would can could should may might must one two out off over under per all any each other more most some such only own " +
	"same so too very")

// Search finds lessons that hold all words of a text, the best match first; without any word all of them, the newest first. Only those of
// projects that the one who asks sees are found.
func (o *Office) Search(ctx context.Context, a *assess.Assessment, s *assess.Scope, text string) ([]Learned, error) {
	return o.lessons(ctx, a, s, wordsOf(text), true, func(Learned) bool { return true })
}

// mostLike bounds how many lessons are suggested.
const mostLike = 5

// Like suggests lessons of other records that resemble a text: those that share at least two of its words, or its only one.
func (o *Office) Like(ctx context.Context, a *assess.Assessment, text string) ([]Learned, error) {
	words := wordsOf(text)
	if len(words) == 0 {
		return nil, nil
	}
	s, err := a.Scope("")
	if err != nil {
		return nil, err
	}
	list, err := o.lessons(ctx, a, s, words, false, func(l Learned) bool { return len(l.Shared) >= min(2, len(words)) })
	slices.SortStableFunc(list, func(x, y Learned) int { return len(y.Shared) - len(x.Shared) })
	return list[:min(len(list), mostLike)], err
}

func (o *Office) lessons(ctx context.Context, a *assess.Assessment, s *assess.Scope, words []string, all bool,
	takes func(Learned) bool) ([]Learned, error) {
	if _, err := access.Permit(ctx, access.Read); err != nil {
		return nil, err
	}
	seen := map[int64]*measure.Project{}
	for _, p := range s.Projects {
		seen[p.ID] = p
	}
	var list []Learned
	err := o.store.FindLessons(ctx, words, all, func(holder int64, l risk.Lesson) {
		p := seen[holder]
		if p == nil || l.Raised > a.Env.AsOf {
			return
		}
		x := Learned{Project: p, Lesson: l, Shared: shared(words, l.Title+" "+l.Text+" "+l.Category)}
		if takes(x) {
			list = append(list, x)
		}
	})
	return list, err
}

// shared are the words that a text holds, or begins words of its own with.
func shared(words []string, text string) []string {
	var list []string
	have := strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	for _, w := range words {
		if slices.ContainsFunc(have, func(h string) bool { return h == w || stem(h) == stem(w) }) {
			list = append(list, w)
		}
	}
	return list
}

// stem is a word without a few common endings, enough to say why two texts are alike; what is found is for the store to say.
func stem(w string) string {
	for _, end := range []string{"ings", "ing", "ies", "es", "ed", "s", "y", "e"} {
		if cut := strings.TrimSuffix(w, end); cut != w && len(cut) > 2 {
			return cut
		}
	}
	return w
}
