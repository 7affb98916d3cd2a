package servitor.service.reading;

import java.time.Instant;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** What was read of documents. */
@Mapper
interface ReadingMapper {
    @Select("select read from document_reading where digest = #{digest}")
    @Nullable
    String find(String digest);

    @Update("merge into document_reading (digest, at, read) key (digest) values (#{digest}, #{at}, #{read})")
    void put(@Param("digest") String digest, @Param("at") Instant at, @Param("read") String read);
}
