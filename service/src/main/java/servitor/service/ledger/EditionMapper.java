package servitor.service.ledger;

import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.jspecify.annotations.Nullable;
import servitor.service.ledger.Rows.EditionRow;
import servitor.service.ledger.Rows.FileRow;

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

    @Insert("insert into edition values (#{number}, #{digest}, #{note}, #{publishedBy}, #{published})")
    void insert(EditionRow row);

    @Insert("insert into edition_file values (#{edition}, #{path}, #{text})")
    void insertFile(int edition, String path, String text);
}
