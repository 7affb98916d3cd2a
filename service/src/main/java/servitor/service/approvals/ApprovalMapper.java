package servitor.service.approvals;

import java.time.Instant;
import java.util.List;
import java.util.Set;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;
import servitor.service.cases.CaseFilter;

/** Approvals and the answers given to them. */
@Mapper
interface ApprovalMapper {
    /** An approval with what it asks, as the rows are read. */
    String APPROVAL = "select a.*, s.request from approval a join approval_shown s on s.approval_id = a.id ";

    @Select(APPROVAL + "where a.id = #{id}")
    @Nullable
    ApprovalRow find(String id);

    /** Where an approval stands in the list of those that wait: by when it lapses, those that never do at the end. */
    String URGENCY = "coalesce(a.due, timestamp with time zone '9999-01-01 00:00:00+00:00')";

    /** Approvals are gone through in the order of the list, and their cases looked up, until there are enough. */
    @Select("<script>" + APPROVAL + "where "
            + """
            <choose><when test="filter.open">a.state = 'open'</when><otherwise>a.closed is not null and a.state &lt;&gt;
              'open'</otherwise></choose>
            and <choose>
              <when test="about.requester != null">a.case_id in (select c.id from case_record c where c.requester =
                #{about.requester}</when>
              <otherwise>exists (select 1 from case_record c where c.id = a.case_id</otherwise>
            </choose>
            and (<if test="filter.desks.size() > 0 and !filter.askedOnly">c.desk in
                <foreach collection="filter.desks" item="d" open="(" separator="," close=")">#{d}</foreach> or</if>
              c.requester &lt;&gt; #{filter.me} and c.opened_by &lt;&gt; #{filter.me} and exists (select 1 from approval_asked q
                where q.approval_id = a.id and q.name in
                <foreach collection="filter.names" item="n" open="(" separator="," close=")">#{n}</foreach>))
            <if test="filter.askedOnly">and (a.handed_to is null or a.handed_to = #{filter.me})</if>
            """ + CaseFilter.OF_CASE + """
            )
            <if test="about.since != null">and a.opened &gt;= #{about.since}</if>
            <if test="about.until != null">and a.opened &lt; #{about.until}</if>
            <if test="about.pages != null">and exists (select 1 from run r where r.id = a.run_id """ + CaseFilter.OF_RUN + """
            )</if>
            <if test="filter.afterTime != null and filter.open">and (""" + URGENCY + """
            , a.id) &gt; (#{filter.afterTime}, #{filter.afterId})</if>
            <if test="filter.afterTime != null and !filter.open">and (a.closed, a.id) &lt; (#{filter.afterTime}, #{filter.afterId})</if>
            order by <choose><when test="filter.open">""" + URGENCY + """
            , a.id</when><otherwise>a.closed desc, a.id desc</otherwise></choose>
            limit #{limit}
            </script>
            """)
    List<ApprovalRow> list(ApprovalFilter filter, CaseFilter about, int limit);

    @Insert("""
            insert into approval_asked (approval_id, name)
            select * from unnest(cast(#{askedId} as varchar array), cast(#{askedName} as varchar array))
            """)
    void insertAsked(ApprovalColumns columns);

    @Select(APPROVAL + "where a.case_id = #{caseId} order by a.opened")
    List<ApprovalRow> ofCase(String caseId);

    @Select(APPROVAL
            + "where a.state = 'open' and a.due <= #{now} and not a.held order by a.state, a.due limit #{limit}")
    List<ApprovalRow> overdue(Instant now, int limit);

    /** Writes new approvals, one element of each column for each of them. */
    @Insert("""
            insert into approval (id, run_id, case_id, digest, state, opened, due, version, authors, remind_at, held,
              watched, reminders, held_millis, handed_to, told)
            select opened.*, 0, 0, null, false from unnest(
              cast(#{id} as varchar array), cast(#{runId} as varchar array), cast(#{caseId} as varchar array),
              cast(#{digest} as varchar array), cast(#{state} as varchar array),
              cast(#{opened} as timestamp(6) with time zone array), cast(#{due} as timestamp(6) with time zone array),
              cast(#{version} as int array), cast(#{authors} as varchar array),
              cast(#{remindAt} as timestamp(6) with time zone array), cast(#{held} as boolean array),
              cast(#{watched} as boolean array)) as opened
            """)
    void insert(ApprovalColumns columns);

    @Update("""
            update approval set state = #{state}, closed = #{closed}, version = version + 1
            where id = #{id} and version = #{version} and (state = 'open' or state = 'expired' and #{state} = 'sent-late')
            """)
    int close(String id, String state, @Nullable Instant closed, int version);

    @Update("""
            update approval set digest = #{digest}, authors = #{authors}, told = false, version = version + 1
            where id = #{id} and state = 'open' and version = #{version}
            """)
    int showAnew(String id, String digest, String authors, int version);

    @Update("update approval_shown set request = #{request} where approval_id = #{id}")
    void asksAnew(String id, String request);

    @Delete("delete from approval_answer where approval_id = #{id}")
    void forgetAnswers(String id);

    @Select(
            APPROVAL
                    + "where a.state = 'open' and a.remind_at <= #{now} and not a.held order by a.state, a.remind_at limit #{limit}")
    List<ApprovalRow> toRemind(Instant now, int limit);

    @Update(
            "update approval set remind_at = #{next}, reminders = reminders + 1, told = false, version = version + 1 where id "
                    + "= #{id} and state = 'open' and version = #{version}")
    int reminded(String id, @Nullable Instant next, int version);

    /** What is asked, and what is shown beside it, as it is when people are asked. */
    @Insert("""
            insert into approval_shown (approval_id, request, evidence)
            select * from unnest(cast(#{id} as varchar array), cast(#{request} as varchar array),
              cast(#{evidence} as varchar array))
            """)
    void insertShown(ApprovalColumns columns);

    @Select("select evidence from approval_shown where approval_id = #{id}")
    @Nullable
    String evidence(String id);

    /** Its time stands still, or goes on again. */
    @Update("update approval set held = #{held}, held_millis = #{heldMillis}, due = #{due}, remind_at = "
            + "#{remindAt}, version = version + 1 where id = #{id} and state = 'open'")
    int hold(String id, boolean held, long heldMillis, @Nullable Instant due, @Nullable Instant remindAt);

    @Select(APPROVAL + "where a.watched and a.state = 'open' and not a.held order by a.id limit #{limit}")
    List<ApprovalRow> watched(int limit);

    @Select(APPROVAL + "where not a.told and a.state = 'open' order by a.opened limit #{limit}")
    List<ApprovalRow> toTell(int limit);

    @Update("update approval set told = true where id = #{id} and not told")
    int told(String id);

    @Update("update approval set handed_to = #{to} where id = #{id} and state = 'open'")
    int hand(String id, String to);

    @Select(
            "<script>select distinct run_id from approval where run_id in <foreach collection='runs' item='r' open='(' separator=',' "
                    + "close=')'>#{r}</foreach></script>")
    Set<String> asked(List<String> runs);

    @Select(APPROVAL + "where a.run_id = #{run} order by a.opened")
    List<ApprovalRow> ofRun(String run);

    @Delete("delete from approval where run_id = #{run}")
    int deleteOfRun(String run);

    @Delete("delete from approval_shown where approval_id in (select id from approval where run_id = #{run})")
    void deleteShown(String run);

    @Select("select * from approval_answer where approval_id = #{id} order by at")
    List<AnswerRow> answers(String id);

    @Insert(
            "insert into approval_answer (approval_id, person, says, reason, texts, form, for_groups, at, via, stands_in_for) values "
                    + "(#{approvalId}, #{person}, #{says}, #{reason}, #{texts}, #{form}, #{forGroups}, #{at}, #{via}, #{standsInFor})")
    void insertAnswer(AnswerRow row);
}
