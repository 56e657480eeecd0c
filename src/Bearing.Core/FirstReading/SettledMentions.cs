using Bearing.Core.Books;
using Bearing.Core.Language;
using Bearing.Core.Reading;

namespace Bearing.Core.FirstReading;

/// <summary>The meanings of every span of words, after what stands beside them has ruled some out.</summary>
internal sealed class SettledMentions(Vocabulary vocabulary, Book book, BookWords words)
{
    private readonly MentionFinder _finder = new(vocabulary, book, words);

    public List<Mention> Find(IReadOnlyList<Token> tokens) =>
        new MentionContext(vocabulary, book, tokens, _finder.Find(tokens)).Settle();

    public IReadOnlyList<string> Nearest(string stem, int most) => _finder.Nearest(stem, most);
}
