DROP TABLE shot_mark, reading, shot, device, block, session, player, coach, school;
