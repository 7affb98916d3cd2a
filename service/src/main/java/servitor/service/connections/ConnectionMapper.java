package servitor.service.connections;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.jspecify.annotations.Nullable;

/** Outside systems by name. */
@Mapper
interface ConnectionMapper {
    @Select("select * from connection where name = #{name}")
    @Nullable
    ConnectionRow find(String name);

    @Select("select * from connection order by name")
    List<ConnectionRow> all();

    @Insert("merge into connection (name, url, at_once, sign_in, sealed, inside, authorities, tokens, "
            + "signed_in_by, signed_in_at, desk) key (name) values (#{name}, #{url}, #{atOnce}, #{signIn}, #{sealed}, "
            + "#{inside}, #{authorities}, #{tokens}, #{signedInBy}, #{signedInAt}, #{desk})")
    void put(ConnectionRow row);

    @Delete("delete from connection where name = #{name}")
    int delete(String name);
}
