package servitor.service.intake;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Mails that were read, and where reading stands. */
@Mapper
interface MailMapper {
    String ROW =
            "select id, intake, received, sender, subject, proof, case_id, reason, message_id, refs, became, digest from mail ";

    @Select(ROW + "where id = #{id}")
    @Nullable
    MailRow find(String id);

    @Select(ROW + "where case_id = #{caseId} order by received, id")
    List<MailRow> ofCase(String caseId);

    /** Mails of an intake that became nothing, and that no other intake has taken in. */
    @Select(ROW
            + "m where intake = #{intake} and case_id = '' and (digest = '' or not exists (select 1 from mail o where o.digest = "
            + "m.digest and o.case_id <> '')) order by received desc, id fetch first #{most} rows only")
    List<MailRow> leftOut(@Param("intake") String intake, @Param("most") int most);

    /** How many mails of these bytes were taken in by any of {@code intakes}. */
    @Select("""
            <script>
            select count(*) from mail where digest = #{digest} and case_id <![CDATA[<>]]> '' and intake in
              <foreach collection="intakes" item="i" open="(" separator="," close=")">#{i}</foreach>
            </script>
            """)
    int taken(@Param("digest") String digest, @Param("intakes") Collection<String> intakes);

    /** How many mails of these bytes were left out by any of {@code intakes} for this reason. */
    @Select("""
            <script>
            select count(*) from mail where digest = #{digest} and case_id = '' and reason = #{reason} and intake in
              <foreach collection="intakes" item="i" open="(" separator="," close=")">#{i}</foreach>
            </script>
            """)
    int leftOutAlike(
            @Param("digest") String digest,
            @Param("reason") String reason,
            @Param("intakes") Collection<String> intakes);

    /** Whether a case has this mail of this sender already, by whichever mailbox it came. */
    @Select(
            "select count(*) from mail where case_id = #{caseId} and sender = #{sender} and message_id = #{messageId} and message_id <> ''")
    int ofCaseAlready(
            @Param("caseId") String caseId, @Param("sender") String sender, @Param("messageId") String messageId);

    /** The mail that whoever asked wrote last. */
    @Select(
            ROW
                    + "where case_id = #{caseId} and became in ('case', 'reply') order by received desc, id fetch first 1 rows only")
    @Nullable
    MailRow lastAsked(String caseId);

    /** How many mails of a sender were read; several intakes of a mailbox keep the same one. */
    @Select("select count(distinct digest) from mail where sender = #{sender} and received >= #{since}")
    int since(@Param("sender") String sender, @Param("since") Instant since);

    /** All bytes of a mail; a record, as a list would be made of an array. */
    record Content(byte[] content) {}

    @Select("select content from mail where id = #{id}")
    @Nullable
    Content content(String id);

    @Insert(
            "insert into mail (id, intake, received, sender, subject, proof, case_id, reason, message_id, refs, became, digest, content) values (#{row.id}, "
                    + "#{row.intake}, #{row.received}, #{row.sender}, #{row.subject}, #{row.proof}, #{row.caseId}, #{row.reason}, "
                    + "#{row.messageId}, #{row.refs}, #{row.became}, #{row.digest}, #{content})")
    void insert(@Param("row") MailRow row, @Param("content") byte[] content);

    @Update(
            "update mail set case_id = #{caseId}, reason = #{reason}, proof = #{proof}, became = #{became} where id = #{id}")
    void became(MailRow row);

    @Select("select * from mailbox where intake = #{intake}")
    @Nullable
    MailboxRow mailbox(String intake);

    @Insert(
            "merge into mailbox (intake, place, validity, uid, looked, trouble) key (intake) values (#{intake}, #{place}, "
                    + "#{validity}, #{uid}, #{looked}, #{trouble})")
    void stands(MailboxRow row);
}
