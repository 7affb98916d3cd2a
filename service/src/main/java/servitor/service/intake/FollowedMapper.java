package servitor.service.intake;

import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.jspecify.annotations.Nullable;

/** How far followed files are read. */
@Mapper
interface FollowedMapper {
    @Select("select * from followed_file where intake = #{intake}")
    @Nullable
    FollowedRow find(String intake);

    @Update(
            "merge into followed_file (intake, path, file_key, read_to, reading_to, looked, trouble) key (intake) values (#{intake}, "
                    + "#{path}, #{fileKey}, #{readTo}, #{readingTo}, #{looked}, #{trouble})")
    void put(FollowedRow row);
}
