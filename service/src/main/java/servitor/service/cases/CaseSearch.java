package servitor.service.cases;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.apache.lucene.analysis.Analyzer;
import org.apache.lucene.analysis.TokenStream;
import org.apache.lucene.analysis.standard.StandardAnalyzer;
import org.apache.lucene.analysis.tokenattributes.CharTermAttribute;
import org.apache.lucene.document.Document;
import org.apache.lucene.document.Field.Store;
import org.apache.lucene.document.LongPoint;
import org.apache.lucene.document.NumericDocValuesField;
import org.apache.lucene.document.StringField;
import org.apache.lucene.document.TextField;
import org.apache.lucene.index.IndexWriter;
import org.apache.lucene.index.IndexWriterConfig;
import org.apache.lucene.index.Term;
import org.apache.lucene.search.BooleanClause.Occur;
import org.apache.lucene.search.BooleanQuery;
import org.apache.lucene.search.FieldDoc;
import org.apache.lucene.search.IndexSearcher;
import org.apache.lucene.search.PrefixQuery;
import org.apache.lucene.search.Query;
import org.apache.lucene.search.ScoreDoc;
import org.apache.lucene.search.SearcherManager;
import org.apache.lucene.search.Sort;
import org.apache.lucene.search.SortField;
import org.apache.lucene.search.TermQuery;
import org.apache.lucene.search.TopFieldDocs;
import org.springframework.stereotype.Component;
import servitor.service.ServitorSettings;

/**
 * Finds cases by the words of their subject, text and id. The index is made from the tables and can be thrown away: it catches up
 * before every search, by the numbers of the cases, as what is searched of a case never changes. Numbers are given out before they
 * are committed, so that where several processes write, the newest are looked at anew for a while. Safe for use by several threads.
 */
@Component
public class CaseSearch {
    private static final String WORDS = "words";
    private static final String NUMBER = "number";
    private static final String DESK = "desk";
    private static final String REQUESTER = "requester";
    private static final int BATCH = 2_000;
    private static final int PART = 200;
    private static final int LATE = 500;
    private static final int MOST_WORDS = 10;
    private static final Sort NEWEST_FIRST = new Sort(new SortField(NUMBER, SortField.Type.LONG, true));

    private final Analyzer analyzer = new StandardAnalyzer();
    private final CaseStore caseStore;
    private final boolean shared;
    private final IndexWriter writer;
    private final SearcherManager searchers;
    private long highest;
    private final Set<Long> recent = new HashSet<>();

    CaseSearch(CaseStore caseStore, ServitorSettings settings) throws IOException {
        this.caseStore = caseStore;
        this.shared = settings.isShared();
        Path folder = settings.data().resolve("search");
        IndexWriterConfig config = new IndexWriterConfig(analyzer)
                .setOpenMode(IndexWriterConfig.OpenMode.CREATE)
                .setIndexSort(NEWEST_FIRST);
        this.writer = new IndexWriter(new OwnersDirectory(folder), config);
        this.searchers = new SearcherManager(writer, null);
    }

    /** Cases of the desks or of the requester that hold all the words, newest first, numbered below {@code below}. */
    public List<CaseRow> list(
            String me, Collection<String> desks, CaseFilter about, String words, long below, int limit) {
        catchUp(caseStore::searched);
        List<CaseRow> found = new ArrayList<>();
        List<Long> numbers;
        long under = below;
        do {
            numbers = find(me, desks, words, under, PART);
            if (!numbers.isEmpty()) {
                found.addAll(caseStore.list(me, desks, about, numbers, under, limit - found.size()));
                under = numbers.get(numbers.size() - 1);
            }
        } while (numbers.size() == PART && found.size() < limit);
        return found;
    }

    /** Rows of cases numbered above {@code after}, the first {@code limit} of them. */
    interface Source {
        List<SearchedRow> after(long after, int limit);
    }

    /** Takes in the cases that have come since. */
    synchronized void catchUp(Source source) {
        try {
            boolean added = false;
            long after = shared ? Math.max(0, highest - LATE) : highest;
            List<SearchedRow> rows;
            do {
                rows = source.after(after, BATCH);
                for (SearchedRow row : rows) {
                    after = row.number();
                    if (row.number() > highest || shared && !recent.contains(row.number())) {
                        writer.addDocument(document(row));
                        recent.add(row.number());
                        highest = Math.max(highest, row.number()); // each at once: what breaks off begins behind it
                        added = true;
                    }
                }
            } while (rows.size() == BATCH);
            recent.removeIf(number -> number < highest - LATE);
            if (added) {
                searchers.maybeRefreshBlocking();
            }
        } catch (IOException e) {
            throw new UncheckedIOException("The search index in the data folder can't be written.", e);
        }
    }

    private static Document document(SearchedRow row) {
        Document document = new Document();
        document.add(new NumericDocValuesField(NUMBER, row.number()));
        document.add(new LongPoint(NUMBER, row.number()));
        document.add(new StringField(DESK, row.desk(), Store.NO));
        document.add(new StringField(REQUESTER, row.requester(), Store.NO));
        document.add(new TextField(WORDS, row.subject() + "\n" + row.text() + "\n" + row.id(), Store.NO));
        return document;
    }

    /**
     * The numbers of cases of the desks, or of the requester, that hold all the words, each from its beginning on; the newest first.
     *
     * @param below only numbers below this
     */
    List<Long> find(String me, Collection<String> desks, String words, long below, int limit) {
        List<String> wanted = wordsOf(words);
        if (wanted.isEmpty()) {
            return List.of();
        }
        BooleanQuery.Builder all = new BooleanQuery.Builder();
        all.add(visible(me, desks), Occur.FILTER);
        all.add(LongPoint.newRangeQuery(NUMBER, 0, below - 1), Occur.FILTER);
        wanted.forEach(word -> all.add(new PrefixQuery(new Term(WORDS, word)), Occur.FILTER));
        try {
            IndexSearcher searcher = searchers.acquire();
            try {
                return numbers(searcher, searcher.search(all.build(), limit, NEWEST_FIRST));
            } finally {
                searchers.release(searcher);
            }
        } catch (IOException e) {
            throw new UncheckedIOException("The search index in the data folder can't be read.", e);
        }
    }

    private static Query visible(String me, Collection<String> desks) {
        BooleanQuery.Builder any = new BooleanQuery.Builder();
        any.add(new TermQuery(new Term(REQUESTER, me)), Occur.SHOULD);
        desks.forEach(desk -> any.add(new TermQuery(new Term(DESK, desk)), Occur.SHOULD));
        return any.build();
    }

    private List<String> wordsOf(String text) {
        List<String> words = new ArrayList<>();
        try (TokenStream tokens = analyzer.tokenStream(WORDS, text)) {
            CharTermAttribute term = tokens.addAttribute(CharTermAttribute.class);
            tokens.reset();
            while (tokens.incrementToken() && words.size() < MOST_WORDS) {
                words.add(term.toString());
            }
            tokens.end();
            return words.stream().distinct().toList();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static List<Long> numbers(IndexSearcher searcher, TopFieldDocs found) {
        List<Long> numbers = new ArrayList<>();
        for (ScoreDoc one : found.scoreDocs) {
            numbers.add((Long) ((FieldDoc) one).fields[0]);
        }
        return numbers;
    }

    @PreDestroy
    void close() throws IOException {
        searchers.close();
        writer.rollback();
    }
}
