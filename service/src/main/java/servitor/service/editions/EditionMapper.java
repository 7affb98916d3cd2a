package servitor.service.editions;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** Published handbooks and their files. */
@Mapper
interface EditionMapper {
    @Select("select * from edition order by number desc limit 1")
    @Nullable
    EditionRow newest();

    @Select("select * from edition where number = #{number}")
    @Nullable
    EditionRow find(int number);

    @Select("select * from edition order by number desc")
    List<EditionRow> all();

    @Select("select path, text from edition_file where edition = #{number} order by path")
    List<FileRow> files(int number);

    @Select("select * from draft_file where person = #{person} order by path")
    List<DraftRow> draft(String person);

    @Select(
            "select person, path, null as text, base, updated from draft_file where person <> #{person} order by path, person")
    List<DraftRow> draftsOfOthers(String person);

    @Update("merge into draft_file (person, path, text, base, updated) key (person, path) values (#{person}, "
            + "#{path}, #{text}, #{base}, #{updated})")
    void putDraft(DraftRow row);

    @Delete("delete from draft_file where person = #{person} and path = #{path}")
    void dropDraft(String person, String path);

    @Insert("insert into edition (number, digest, note, published_by, published) values (#{number}, #{digest}, "
            + "#{note}, #{publishedBy}, #{published})")
    void insert(EditionRow row);

    @Insert("insert into edition_file (edition, path, text) values (#{edition}, #{path}, #{text})")
    void insertFile(int edition, String path, String text);

    @Insert(
            "merge into consent (digest, desk, person, at) key (digest, desk) values (#{digest}, #{desk}, #{person}, #{at})")
    void putConsent(ConsentRow row);

    @Select("select * from consent where digest = #{digest}")
    List<ConsentRow> consents(String digest);

    @Delete("delete from consent where digest = #{digest} and person = #{person}")
    void dropConsents(String digest, String person);

    @Update(
            "merge into publish_wish (digest, person, note, files, asked, state, answered_by, reason) key (digest) values "
                    + "(#{digest}, #{person}, #{note}, #{files}, #{asked}, #{state}, #{answeredBy}, #{reason})")
    void putWish(WishRow row);

    @Select("select * from publish_wish where digest = #{digest}")
    @Nullable
    WishRow wish(String digest);

    @Select("select * from publish_wish order by asked desc")
    List<WishRow> wishes();

    @Delete("delete from publish_wish where digest = #{digest}")
    void dropWish(String digest);
}
