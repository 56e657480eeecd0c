namespace Bearing.Service.Hosting;

/// <summary>A kind of failure: what a program can tell apart, and what the page at <see cref="Address"/> explains.</summary>
/// <param name="Code">Never changes: programs compare it.</param>
/// <param name="Status">Of HTTP, by which the answer is sent.</param>
/// <param name="Meaning">When it happens and what to do about it, for whoever meets it for the first time.</param>
public sealed record ProblemKind(string Code, int Status, string Title, string Meaning)
{
    /// <summary>What the <c>type</c> of a problem document says (RFC 9457).</summary>
    public string Address => $"/problems/{Code}";
}

/// <summary>All kinds of failure, in the order of their status.</summary>
public static class ProblemKinds
{
    private static readonly Dictionary<string, ProblemKind> Known = [];

    public static readonly ProblemKind RequestUnreadable = Add(
        "request-unreadable",
        400,
        "The request cannot be read",
        "A parameter or a part of the body does not have the form that the interface expects: the detail names it. The forms are described in /openapi/v1.json."
    );
    public static readonly ProblemKind QuestionUnreadable = Add(
        "question-unreadable",
        400,
        "The question cannot be read",
        "The parts of the question do not go together, or one names what the book does not have: the detail names the part. A question in words is sent to /ask instead, which says what it understood."
    );
    public static readonly ProblemKind OtherOrigin = Add(
        "other-origin",
        403,
        "Not from here",
        "Until there is sign-in, the service answers only to the address at which it was started and to its own pages, so that pages of others cannot use it behind your back. Use the address that it printed at its start."
    );
    public static readonly ProblemKind AddressNotAllowed = Add(
        "address-not-allowed",
        403,
        "The address is not allowed",
        "Whoever runs the service says with --allow which sources it may reach, and this one is not among them. Ask them to allow it."
    );
    public static readonly ProblemKind NoSuchAddress = Add(
        "no-such-address",
        404,
        "No such address",
        "The interface has no operation at this address. All of them are described in /openapi/v1.json."
    );
    public static readonly ProblemKind NoSuchBook = Add(
        "no-such-book",
        404,
        "No such book",
        "No book has this id, or it was erased. The list of books has their ids; one that was erased by mistake can be restored for some days."
    );
    public static readonly ProblemKind NoBookErased = Add(
        "no-book-erased",
        404,
        "No such book was erased",
        "Nothing of a book with this id is kept to be restored: it was never erased, or too long ago."
    );
    public static readonly ProblemKind NoSuchEdition = Add(
        "no-such-edition",
        404,
        "No such edition",
        "A book has as many editions as it had changes; this number is not among them. Leave the edition out to ask the book as it is now."
    );
    public static readonly ProblemKind NoSuchDimension = Add(
        "no-such-dimension",
        404,
        "No such dimension",
        "The book is not broken down by what was named. The book itself tells its dimensions."
    );
    public static readonly ProblemKind NoSuchTable = Add(
        "no-such-table",
        404,
        "No such table",
        "The book has no table of records with this code. The list of tables has them; loading with the kind records makes one."
    );
    public static readonly ProblemKind NoSuchLoad = Add(
        "no-such-load",
        404,
        "No such load",
        "Nothing was loaded under this number. The list of loads has them."
    );
    public static readonly ProblemKind NoSuchRow = Add(
        "no-such-row",
        404,
        "No such row",
        "The file that was loaded has no row of this number. Rows are numbered as the lines of the file, its heading being 1."
    );
    public static readonly ProblemKind NoSuchUpload = Add(
        "no-such-upload",
        404,
        "No such upload",
        "No file was sent under this id, or it was swept away because it was never loaded. Send the file again."
    );
    public static readonly ProblemKind NoSuchJob = Add(
        "no-such-job",
        404,
        "No such job",
        "The book has no load, preview or fetch with this id. The answer that started the job has its id."
    );
    public static readonly ProblemKind NoRefusedRows = Add(
        "no-refused-rows",
        404,
        "No refused rows",
        "None of the file's rows were refused, so there is nothing to correct."
    );
    public static readonly ProblemKind NoSuchMapping = Add(
        "no-such-mapping",
        404,
        "No such mapping",
        "The book keeps no way of reading a file under this name. The list of mappings has them."
    );
    public static readonly ProblemKind NoSuchSelection = Add(
        "no-such-selection",
        404,
        "No such selection list",
        "The book keeps no list of values under this name. A list is kept first, then named by a mapping."
    );
    public static readonly ProblemKind NoSuchSource = Add(
        "no-such-source",
        404,
        "No such source",
        "The book knows no source under this name. The list of sources has them."
    );
    public static readonly ProblemKind NoSuchWord = Add(
        "no-such-word",
        404,
        "No such word",
        "The book was not taught a word of this number, or it was forgotten already."
    );
    public static readonly ProblemKind NoSuchQuestion = Add(
        "no-such-question",
        404,
        "No such question",
        "The book keeps no question under this name. The list of questions has them."
    );
    public static readonly ProblemKind NoQuestionsKept = Add(
        "no-questions-kept",
        404,
        "No questions are kept",
        "All questions that the book keeps were to be run, and it keeps none yet."
    );
    public static readonly ProblemKind NoSuchTrail = Add(
        "no-such-trail",
        404,
        "No such trail",
        "No steps of a talk are kept under this id in this book. A trail is kept for a year after it was last opened."
    );
    public static readonly ProblemKind ConfirmationMissing = Add(
        "confirmation-missing",
        409,
        "It needs to be confirmed",
        "What cannot be taken back is done only when the book's name is said again, so that an address that was mistyped or led elsewhere does no harm."
    );
    public static readonly ProblemKind BookThereAlready = Add(
        "book-there-already",
        409,
        "The book is there already",
        "Two books cannot have one id. Give the new one another name, or erase the other first."
    );
    public static readonly ProblemKind EditionPurged = Add(
        "edition-purged",
        410,
        "This edition can no longer be read",
        "Loads that counted in it were taken back and then removed for good. Later editions can be read; leave the edition out to ask the book as it is now."
    );
    public static readonly ProblemKind CannotAnswer = Add(
        "cannot-answer",
        422,
        "The book cannot answer this",
        "The question was understood, or nearly, but the book has nothing to answer it with. The detail says what is missing and the remedy names questions that it can answer."
    );
    public static readonly ProblemKind FileRefused = Add(
        "file-refused",
        422,
        "The file cannot be loaded",
        "Nothing of the file was taken. The detail says what is wrong with it as a whole, the remedy what to correct or to say when loading."
    );
    public static readonly ProblemKind RowsRefused = Add(
        "rows-refused",
        422,
        "Rows were refused",
        "A file lands with all of its rows or not at all, and some of them cannot be taken: each is listed with its reason. Correct them and load the file again."
    );
    public static readonly ProblemKind WarningsOpen = Add(
        "warnings-open",
        422,
        "There are warnings to agree with",
        "The file can be loaded, but something about it looks wrong. Look at each warning; load again with “agreed” to take the file in as it is, or correct it."
    );
    public static readonly ProblemKind OptionUnknown = Add(
        "option-unknown",
        422,
        "An option is not known",
        "A value is not among those that can be said there. The remedy lists them."
    );
    public static readonly ProblemKind ValueUnusable = Add(
        "value-unusable",
        422,
        "A value is not usable",
        "A name, a code, a month, an amount or a list that was given cannot be used where it was given. The detail says which and why, the remedy how it is written."
    );
    public static readonly ProblemKind DefinitionUnusable = Add(
        "definition-unusable",
        422,
        "The definition of the book is not usable",
        "The calendar, the scenarios, the dimensions or the calculations of the new book do not go together. The detail names the part."
    );
    public static readonly ProblemKind MappingUnusable = Add(
        "mapping-unusable",
        422,
        "The mapping cannot be used",
        "A part of the mapping says what cannot be done to a file. The detail names the part, the remedy what can be said there."
    );
    public static readonly ProblemKind MemberUnusable = Add(
        "member-unusable",
        422,
        "A member cannot be added",
        "The account, entity or other member that was to be added first lacks something, or names a parent that the book does not have."
    );
    public static readonly ProblemKind SourceUnusable = Add(
        "source-unusable",
        422,
        "The source is not usable",
        "Its kind or its address cannot be read, its secret has to be given again, or it is not clear what to fetch from it."
    );
    public static readonly ProblemKind WordUnusable = Add(
        "word-unusable",
        422,
        "The word cannot be taught",
        "What it should mean is not a question's part that the book can read, or the word means something already."
    );
    public static readonly ProblemKind QuestionIncomplete = Add(
        "question-incomplete",
        422,
        "Something has still to be said",
        "Kept questions have places that are filled when they are run, such as a month. Say what stands in each."
    );
    public static readonly ProblemKind TooMany = Add(
        "too-many",
        422,
        "Too many at once",
        "More was asked for in one request than the service does in one. Divide it."
    );
    public static readonly ProblemKind Unexpected = Add(
        "unexpected",
        500,
        "Something went wrong in Bearing",
        "This is a fault of Bearing, not of the request. It was logged, and nothing was changed. Try again; if it happens again, send the service's log to whoever runs it."
    );
    public static readonly ProblemKind SourceFailed = Add(
        "source-failed",
        502,
        "The source could not be read",
        "The database or feed from which rows were to be fetched did not answer, or not as expected. The detail has what it said."
    );
    public static readonly ProblemKind BookDamaged = Add(
        "book-damaged",
        503,
        "This book cannot be opened",
        "Its files are damaged and the book is set apart; the others are not affected. Put its folder back from a backup and start the service again, or erase the book."
    );
    public static readonly ProblemKind Busy = Add(
        "busy",
        503,
        "The service is busy",
        "As many books are in use as the service may hold open at once. Try again in a moment; whoever runs the service can let more be open with --open."
    );
    public static readonly ProblemKind DiskFull = Add(
        "disk-full",
        507,
        "The disk is full",
        "There was no room left in the data folder, and nothing was changed. Free some space and try again."
    );

    public static IReadOnlyCollection<ProblemKind> All => Known.Values;

    /// <summary>Null where no kind has this code.</summary>
    public static ProblemKind? Find(string code) => Known.GetValueOrDefault(code);

    private static ProblemKind Add(string code, int status, string title, string meaning)
    {
        var kind = new ProblemKind(code, status, title, meaning);
        Known.Add(code, kind);
        return kind;
    }
}
