package servitor.service.cases;

import java.time.Instant;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * What a list of cases, or of what belongs to cases, is narrowed to; null leaves a part open.
 *
 * @param requester the person whose cases they are
 * @param pages pages of which one works, or has worked, on the case
 * @param waitingFor one of these stands in what a case waits for
 * @param lateAt only cases that are open at this time although they were due
 * @param owners groups, or {@code person:ID}, of whom one is to see to the case
 * @param since the earliest time something of the list began at; {@code until} is the first that is too late
 */
public record CaseFilter(
        @Nullable String state,
        @Nullable String kind,
        @Nullable String desk,
        @Nullable String requester,
        @Nullable Set<String> pages,
        @Nullable Set<String> waitingFor,
        @Nullable Instant lateAt,
        @Nullable Set<String> owners,
        @Nullable Instant since,
        @Nullable Instant until) {
    /** Everything. */
    public static final CaseFilter ALL = new CaseFilter(null, null, null, null, null, null, null, null, null, null);

    /** The conditions on a case {@code c}, as SQL for a filter that is given as {@code about}. */
    public static final String OF_CASE = """
            <if test="about.state != null">and c.state = #{about.state}</if>
            <if test="about.kind != null">and c.kind = #{about.kind}</if>
            <if test="about.desk != null">and c.desk = #{about.desk}</if>
            <if test="about.requester != null">and c.requester = #{about.requester}</if>
            <if test="about.lateAt != null">and c.state not in ('resolved', 'closed')
              and c.id in (select l.id from case_record l where l.late_since &lt; #{about.lateAt})</if>
            <if test="about.owners != null">and c.owner in
              <foreach collection="about.owners" item="o" open="(" separator="," close=")">#{o}</foreach></if>
            <if test="about.waitingFor != null">and c.state in ('open', 'working', 'waiting', 'with-people') and
              <foreach collection="about.waitingFor" item="w" open="(" separator=" or " close=")">locate(lower(#{w}),
                lower(c.waiting_for)) &gt; 0</foreach></if>
            """;

    /** The condition on the page of a run {@code r}. */
    public static final String OF_RUN = """
            <if test="about.pages != null">and r.page in
              <foreach collection="about.pages" item="p" open="(" separator="," close=")">#{p}</foreach></if>
            """;

    public CaseFilter {
        pages = pages == null ? null : pages.isEmpty() ? Set.of("") : Set.copyOf(pages); // no page: nothing fits
    }

    /** The same, of cases that are late at {@code now}. */
    public CaseFilter lateAt(Instant now) {
        return new CaseFilter(state, kind, desk, requester, pages, waitingFor, now, owners, since, until);
    }

    /** The same, of cases that one of these is to see to. */
    public CaseFilter ownedBy(Set<String> who) {
        return new CaseFilter(state, kind, desk, requester, pages, waitingFor, lateAt, who, since, until);
    }

    /** Cases in a state, and nothing else about them. */
    public static CaseFilter in(String state) {
        return new CaseFilter(state, null, null, null, null, null, null, null, null, null);
    }
}
