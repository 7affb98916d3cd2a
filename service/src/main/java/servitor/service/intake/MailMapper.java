package servitor.service.intake;

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
    String ROW = "select id, intake, received, sender, subject, proof, case_id, reason from mail ";

    @Select(ROW + "where id = #{id}")
    @Nullable
    MailRow find(String id);

    @Select(ROW + "where case_id = #{caseId} order by received, id")
    List<MailRow> ofCase(String caseId);

    @Select(ROW + "where intake = #{intake} and case_id = '' order by received desc, id fetch first #{most} rows only")
    List<MailRow> leftOut(@Param("intake") String intake, @Param("most") int most);

    /** All bytes of a mail; a record, as a list would be made of an array. */
    record Content(byte[] content) {}

    @Select("select content from mail where id = #{id}")
    @Nullable
    Content content(String id);

    @Insert(
            "insert into mail (id, intake, received, sender, subject, proof, case_id, reason, content) values (#{row.id}, "
                    + "#{row.intake}, #{row.received}, #{row.sender}, #{row.subject}, #{row.proof}, #{row.caseId}, #{row.reason}, "
                    + "#{content})")
    void insert(@Param("row") MailRow row, @Param("content") byte[] content);

    @Update("update mail set case_id = #{caseId}, reason = #{reason} where id = #{id}")
    void became(MailRow row);

    @Select("select * from mailbox where intake = #{intake}")
    @Nullable
    MailboxRow mailbox(String intake);

    @Insert(
            "merge into mailbox (intake, place, validity, uid, looked, trouble) key (intake) values (#{intake}, #{place}, "
                    + "#{validity}, #{uid}, #{looked}, #{trouble})")
    void stands(MailboxRow row);
}
