package servitor.service.cases;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Cases, their notes, and the keys under which they were asked for. */
@Mapper
interface CaseMapper {
    /** A case with what was asked, as the rows are read. */
    String CASE = "select c.*, t.text from case_record c join case_text t on t.case_id = c.id ";

    @Select(CASE + "where c.id = #{id}")
    @Nullable
    CaseRow find(String id);

    @Select("<script>" + CASE + """
            where c.id in <foreach collection="ids" item="i" open="(" separator="," close=")">#{i}</foreach>
            </script>
            """)
    List<CaseRow> all(Collection<String> ids);

    /**
     * Cases of the given desks, or of the requester, newest first, below a number (the order names the state of a desk's cases,
     * too, so that its index gives it); only those of {@code numbers} where these are given.
     */
    @Select("<script>" + CASE + "where c.number &lt; #{below}"
            + """
            <if test="numbers != null">and c.number in
              <foreach collection="numbers" item="n" open="(" separator="," close=")">#{n}</foreach></if>
            and (c.requester = #{me}
              <if test="desks.size() > 0">or c.desk in
                <foreach collection="desks" item="d" open="(" separator="," close=")">#{d}</foreach></if>)
            """
            + CaseFilter.OF_CASE
            + """
            <if test="about.since != null">and c.created &gt;= #{about.since}</if>
            <if test="about.until != null">and c.created &lt; #{about.until}</if>
            <if test="about.pages != null">and exists (select 1 from run r where r.case_id = c.id
            """
            + CaseFilter.OF_RUN + """
            )</if>
            order by <if test="about.state != null and desks.size() > 0">c.state, </if>c.number desc limit #{limit}
            </script>
            """)
    List<CaseRow> list(
            String me,
            Collection<String> desks,
            CaseFilter about,
            @Nullable Collection<Long> numbers,
            long below,
            int limit);

    /** What is searched of cases, by number from {@code after} on. */
    @Select(
            "select c.number, c.id, c.desk, c.requester, c.subject, t.text from case_record c join case_text t on t.case_id = c.id "
                    + "where c.number > #{after} order by c.number limit #{limit}")
    List<SearchedRow> searched(long after, int limit);

    /** When the requester's case that is {@code back} places before the newest was opened. */
    @Select("select created from case_record where requester = #{requester} order by requester, number desc "
            + "offset #{back} rows fetch next 1 rows only")
    @Nullable
    Instant opened(String requester, int back);

    /** Writes new cases, one element of each column for each of them. */
    @Insert("""
            insert into case_record (id, number, desk, kind, requester, proof, channel, opened_by, subject, title, language, priority, labels, fields,
              state, waiting_for, due, due_unseen, owner, opened_for, created, updated, version)
            select * from unnest(
              cast(#{id} as varchar array), cast(#{number} as bigint array), cast(#{desk} as varchar array),
              cast(#{kind} as varchar array), cast(#{requester} as varchar array), cast(#{proof} as varchar array),
              cast(#{channel} as varchar array), cast(#{openedBy} as varchar array), cast(#{subject} as varchar array), cast(#{title} as varchar array),
              cast(#{language} as varchar array), cast(#{priority} as varchar array), cast(#{labels} as varchar array),
              cast(#{fields} as varchar array), cast(#{state} as varchar array), cast(#{waitingFor} as varchar array),
              cast(#{due} as timestamp(6) with time zone array), cast(#{due} as timestamp(6) with time zone array),
              cast(#{owner} as varchar array), cast(#{openedFor} as varchar array),
              cast(#{created} as timestamp(6) with time zone array), cast(#{updated} as timestamp(6) with time zone array),
              cast(#{version} as int array))
            """)
    void insert(CaseColumns columns);

    @Insert("""
            insert into case_text (case_id, text)
            select * from unnest(cast(#{id} as varchar array), cast(#{text} as varchar array))
            """)
    void insertTexts(CaseColumns columns);

    /** Writes what has changed of cases that are there, one element of each column for each of them. */
    @Update("""
            merge into case_record (id, title, priority, labels, fields, state, waiting_for, updated, version) key (id)
            select * from unnest(
              cast(#{id} as varchar array), cast(#{title} as varchar array), cast(#{priority} as varchar array),
              cast(#{labels} as varchar array),
              cast(#{fields} as varchar array), cast(#{state} as varchar array), cast(#{waitingFor} as varchar array),
              cast(#{updated} as timestamp(6) with time zone array), cast(#{version} as int array))
            """)
    void update(CaseColumns columns);

    @Update("update case_record set proof = #{proof}, version = version + 1 where id = #{id}")
    void proven(String id, String proof);

    @Update("update case_record set owner = #{owner}, version = version + 1 where id = #{id}")
    void owned(String id, String owner);

    @Select("select count(*) from case_record where opened_for = #{id}")
    int openedFor(String id);

    @Update("merge into case_gave (case_id, gave) key (case_id) values (#{id}, #{gave})")
    void gave(String id, String gave);

    @Select("select gave from case_gave where case_id = #{id}")
    @Nullable
    String gaveOf(String id);

    /** Cases that were due and of which nobody has seen yet whether they are late. */
    @Select("select id from case_record where due_unseen <= #{now} order by due_unseen limit #{limit}")
    List<String> due(Instant now, int limit);

    @Update("update case_record set due_unseen = null, late_since = case when #{late} then due end "
            + "where id = #{id} and due_unseen is not null")
    int dueSeen(String id, boolean late);

    @Select("select min(due_unseen) from case_record")
    @Nullable
    Instant nextDue();

    @Select("select person from case_person where case_id = #{caseId} order by person")
    List<String> named(String caseId);

    @Update(
            "merge into case_person (case_id, person, named_by, at) key (case_id, person) values (#{caseId}, #{person}, "
                    + "#{by}, #{at})")
    void name(String caseId, String person, String by, Instant at);

    @Delete("delete from case_person where case_id = #{caseId} and person = #{person}")
    int unname(String caseId, String person);

    /** The requester's open cases of a desk, the newest first. */
    @Select(CASE + "where c.requester = #{requester} and c.desk = #{desk} and c.state not in ('resolved', 'closed') "
            + "order by c.requester, c.number desc fetch first 1 rows only")
    @Nullable
    CaseRow newestOpen(String requester, String desk);

    /** Whether a case {@code c} is open, in a way that the index of a desk's states is used. */
    String OPEN = "c.state in ('open', 'working', 'waiting', 'with-people') ";

    /** The open cases of a kind at a desk that are numbered above {@code above}, the newest first. */
    @Select(CASE + "where c.desk = #{desk} and " + OPEN + "and c.kind = #{kind} and c.number > #{above} "
            + "order by c.number desc fetch first #{most} rows only")
    List<CaseRow> open(String desk, String kind, long above, int most);

    /** What those are related to. */
    @Select("select r.* from case_record c join case_relation r on r.case_id = c.id where c.desk = #{desk} and " + OPEN
            + "and c.kind = #{kind} and c.number > #{above}")
    List<RelationRow> relationsOfOpen(String desk, String kind, long above);

    @Select("""
            <script>
            select * from case_relation where case_id in
              <foreach collection="ids" item="i" open="(" separator="," close=")">#{i}</foreach>
            </script>
            """)
    List<RelationRow> relationsOf(Collection<String> ids);

    @Select("select coalesce(max(number), 0) from case_record")
    long newest();

    @Insert(
            "insert into document (id, case_id, at, author, name, type, size, digest, text, outcome, pages, tables, content) values "
                    + "(#{id}, #{caseId}, #{at}, #{author}, #{name}, #{type}, #{size}, #{digest}, #{text}, #{outcome}, #{pages}, #{tables}, #{content})")
    void insertDocument(DocumentRow row);

    @Select(
            "select id, case_id, at, author, name, type, size, digest, substring(text, 1, 10001) as text, outcome, pages, tables, x'' as content from document "
                    + "where case_id = #{caseId} order by at, id")
    List<DocumentRow> documents(String caseId);

    @Select(
            "select id, case_id, at, author, name, type, size, digest, text, outcome, pages, tables, content from document where id = #{id}")
    @Nullable
    DocumentRow document(String id);

    @Update(
            "merge into case_relation (case_id, what, other) key (case_id, what, other) values (#{caseId}, #{what}, #{other})")
    void relate(RelationRow row);

    @Select("select * from case_relation where case_id = #{caseId} order by what, other")
    List<RelationRow> relations(String caseId);

    @Select("select * from note where case_id = #{caseId} order by at, id")
    List<NoteRow> notes(String caseId);

    /** Notes that were told to any of {@code names}, about cases that the person sees as staff or as their own, the newest first. */
    @Select("""
            <script>
            select n.* from note n join case_record c on c.id = n.case_id where n.told in
              <foreach collection="names" item="t" open="(" separator="," close=")">#{t}</foreach>
            and n.at &gt;= #{since} and (c.requester = #{me}
              <if test="desks.size() > 0">or c.desk in
                <foreach collection="desks" item="d" open="(" separator="," close=")">#{d}</foreach></if>)
            order by n.at desc, n.id fetch first #{limit} rows only
            </script>
            """)
    List<NoteRow> told(Collection<String> names, String me, Collection<String> desks, Instant since, int limit);

    /** Writes notes, one element of each column for each of them; one whose id is there already stays as it is. */
    @Insert("""
            insert into note (id, case_id, at, author, audience, written, text, channel, told, proof, mail)
            select * from unnest(
              cast(#{id} as varchar array), cast(#{caseId} as varchar array), cast(#{at} as timestamp(6) with time zone array),
              cast(#{author} as varchar array), cast(#{audience} as varchar array), cast(#{written} as boolean array),
              cast(#{text} as varchar array), cast(#{channel} as varchar array), cast(#{told} as varchar array),
              cast(#{proof} as varchar array), cast(#{mail} as varchar array))
              as added (id, case_id, at, author, audience, written, text, channel, told, proof, mail)
            where not exists (select 1 from note n where n.id = added.id)
            """)
    void insertNotes(NoteColumns columns);

    @Select("select digest, case_id from request_key where person = #{person} and request_key = #{key}")
    @Nullable
    RequestKeyRow requestKey(String person, String key);

    @Insert(
            "insert into request_key (person, request_key, digest, case_id) values (#{person}, #{key}, #{digest}, #{caseId})")
    void insertRequestKey(String person, String key, String digest, String caseId);
}
