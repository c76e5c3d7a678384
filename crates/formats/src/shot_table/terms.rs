//! The trade's words for the columns of a table, in the languages that coaches write them in.
//!
//! A column is known when its whole name is one of these, and never because one of them is
//! part of it: a face to path is no path, a spin loft no spin, an impact height no apex.

use super::layout::ColumnUse as C;
use std::collections::{HashMap, HashSet};
use std::sync::LazyLock;
use tally_core::vocabulary::quantity::Quantity as Q;
use tally_core::vocabulary::units::Unit;

/// What a column's name means.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Means {
    /// A value of the shot.
    Value(Q),
    /// One of two values of the shot: a distance is the carry or the total.
    Either([Q; 2]),
    /// The part of the spin about the level axis: nearly all of it for a straight shot.
    Backspin,
    /// Something beside values.
    Role(C),
}

/// English; German; French; Spanish; Italian; Swedish; Dutch; Japanese; Korean; Chinese;
/// Portuguese; Danish and Norwegian.
const VALUES: [(Q, &str); 27] = [
    (
        Q::ClubSpeed,
        "club speed, clubhead speed, club head speed, head speed, swing speed, club velocity, clubhead velocity, chs, club spd, clubhead spd, club head spd, club vel, clubhead vel, cs, vclub; \
        schlägerkopfgeschw, schlägergeschw, kopfgeschw, schlägerkopfgeschwindigkeit, schlägergeschwindigkeit, schwunggeschwindigkeit, schlägerkopf geschwindigkeit, schlägerkopfspeed; \
        vit club, vitesse club, vitesse de club, vitesse du club, vitesse tête de club, vitesse de tête de club, vitesse de la tête de club, vitesse de la tête, vitesse de swing; \
        vel palo, vel cabeza, velocidad del palo, velocidad de palo, velocidad palo, velocidad de la cabeza, velocidad de la cabeza del palo, velocidad de swing, velocidad del swing; \
        vel bastone, vel testa, velocità bastone, velocità del bastone, velocità della testa, velocità testa bastone, velocità della testa del bastone, velocità swing, velocità dello swing; \
        klubbhast, klubbhastighet, klubbhuvudhastighet, svinghastighet, klubbhuvudets hastighet, klubbhuvudfart, klubbfart, svingfart; \
        clubsnelheid, clubhoofdsnelheid, clubkopsnelheid, swingsnelheid, stoksnelheid; \
        ヘッドスピード, クラブスピード, クラブヘッドスピード, h/s, ヘッド速度, クラブ速度, クラブヘッド速度; \
        클럽 스피드, 클럽 속도, 헤드 스피드, 스윙 스피드, 클럽 헤드 스피드, 헤드 속도; \
        杆头速度, 球杆速度, 挥杆速度, 杆速, 桿頭速度, 揮桿速度, 杆头速, 挥速; \
        velocidade do taco, velocidade da cabeça do taco, velocidade de swing; køllehastighed, køllehovedhastighed, svinghastighed, køllehovedfart; køllehastighet, køllehodehastighet",
    ),
    (
        Q::HandSpeed,
        "hand speed, hands speed; handgeschwindigkeit; vitesse des mains; velocidad de las manos; velocità delle mani; handhastighet; handsnelheid; ハンドスピード; 손 스피드; 手速",
    ),
    (
        Q::BallSpeed,
        "ball speed, ball velocity, initial ball speed, ball spd, ball vel, bs, vball; \
        ballgeschw, ballgeschwindigkeit, ball geschwindigkeit; \
        vit balle, vitesse balle, vitesse de balle, vitesse de la balle, vitesse initiale de balle; \
        vel bola, vel pelota, velocidad de bola, velocidad de la bola, velocidad bola, velocidad de la pelota, velocidad de pelota, velocidad inicial de bola; \
        vel palla, velocità palla, velocità della palla; bollhast, bollhastighet, bollfart, ballfart; balsnelheid; \
        ボールスピード, ボール初速, 初速, ボール速度, ボール速, 打ち出し初速, 打出し初速; 볼 스피드, 볼 속도, 공 속도; 球速, 球速度, 小球速度, 球初速, 出球速度; \
        velocidade da bola; boldhastighed; ballhastighet",
    ),
    (
        Q::SmashFactor,
        "smash factor, smash, smash ratio, smash fac, smash fact; smash faktor, smashfaktor; facteur smash, facteur de smash, smash facteur; \
        factor smash, factor de smash, factor de impacto; fattore smash, fattore di smash; smashfactor; ミート率, スマッシュファクター; \
        스매시 팩터, 스매쉬 팩터, 정타율, 스매시; 击球效率, 碰撞系数, 擊球效率, 击球系数, 粉碎系数, 能量传递系数, 能量传递效率, 击球率",
    ),
    (
        Q::AngleOfAttack,
        "angle of attack, attack angle, attack, aoa, att angle, attack ang, att ang; eintreffwinkel, angriffswinkel, anstellwinkel; \
        angle d'attaque, angle attaque; ángulo de ataque; angolo di attacco, angolo d'attacco; \
        attackvinkel, anfallsvinkel, träffvinkel; aanvalshoek, invalshoek; アタックアングル, 入射角, アタック角, ブロー角; \
        어택 앵글, 공격각, 입사각, 공격 각도; 攻角, 攻击角, 攻擊角, 入射角度, 下杆角度; \
        ângulo de ataque; angrebsvinkel; angrepsvinkel",
    ),
    (
        Q::ClubPath,
        "club path, path, swing path, clubhead path, club path angle, path angle, swing path angle; schlägerpfad, schwungpfad, schwungbahn, schlägerbahn, schlägerweg, schwungweg, pfad; \
        chemin de club, chemin du club, trajectoire du club, trajectoire de club, chemin; \
        trayectoria del palo, trayectoria de palo, recorrido del palo, camino del palo; \
        percorso del bastone, percorso bastone, traiettoria del bastone, traiettoria bastone; \
        klubbväg, klubbana, klubbspår, svingbana, klubbans väg, klubbans bana; clubpad, swingpad, clubbaan, swingbaan; \
        クラブパス, クラブ軌道, スイング軌道, ヘッド軌道; 클럽 패스, 클럽 궤도, 스윙 궤도, 스윙 패스; \
        挥杆路径, 杆头轨迹, 球杆路径, 揮桿路徑, 杆头路径; \
        caminho do taco, trajetória do taco; køllebane, svingbane",
    ),
    (
        Q::FaceAngle,
        "face angle, face, club face, clubface, club face angle, clubface angle, face to target, ftt, face ang, face to target angle; \
        schlagflächenwinkel, schlagflächenstellung, schlagfläche, schlägerblattwinkel, schlägerblattstellung, blattwinkel, blattstellung, facewinkel; angle de face, angle de la face, face de club, angle face; \
        ángulo de la cara, ángulo de cara, cara del palo, ángulo cara; angolo faccia, angolo della faccia, faccia del bastone; \
        bladvinkel, klubbladsvinkel, klubbvinkel; clubbladhoek, bladhoek, clubbladstand; \
        フェースアングル, フェース角, フェイスアングル, フェース角度, フェース向き, フェースの向き, フェイス角, フェイス角度, フェイス向き, フェース; \
        페이스 앵글, 페이스 각도, 페이스각; 杆面角, 杆面角度, 桿面角度, 面角; \
        ângulo da face; køllebladsvinkel; køllebladvinkel",
    ),
    (
        Q::DynamicLoft,
        "dynamic loft, dyn loft, delivered loft, loft at impact, dynamic loft angle; dynamischer loft, loft dynamisch; loft dynamique; loft dinámico; \
        loft dinamico; dynamiskt loft, dynamisk loft; dynamische loft; ダイナミックロフト; 다이나믹 로프트, 다이내믹 로프트; \
        动态杆面倾角, 动态倾角, 動態桿面角, 动态杆面角, 动态杆面角度, 动态loft",
    ),
    (
        Q::LaunchDirection,
        "launch direction, horizontal launch angle, horizontal launch, launch horizontal, launch h, launch angle horizontal, hla, \
        azimuth, launch azimuth, start direction, starting direction, launch dir, horizontal angle, horiz launch, horiz launch angle, start line; \
        abflugrichtung, startrichtung, horizontaler abflugwinkel, horizontaler startwinkel, abflugwinkel horizontal, startwinkel horizontal; \
        direction de lancement, direction de départ, direction de décollage, direction d'envol, direction au départ, angle de départ horizontal, direction; \
        dirección de lanzamiento, dirección de salida, dirección; direzione di lancio, direzione di partenza, direzione; \
        utgångsriktning, startriktning; lanceerrichting, startrichting, vertrekrichting; \
        打ち出し方向, 打出し方向, 打出方向, 左右打ち出し角, 左右打ち出し方向, 打ち出し角左右; \
        발사 방향, 좌우 발사각, 출발 방향, 방향각, 런치 디렉션; 发射方向, 起飞方向, 出球方向, 發射方向; \
        direção de lançamento, direção de saída; startretning, udgangsretning, utgangsretning",
    ),
    (
        Q::LaunchAngle,
        "launch angle, launch, vertical launch angle, vertical launch, launch vertical, launch v, launch angle vertical, vla, launch ang, vert launch, vert launch angle; \
        abflugwinkel, startwinkel, vertikaler abflugwinkel, abschlagwinkel, abflugwinkel vertikal, startwinkel vertikal, launchwinkel; \
        angle de lancement, angle de décollage, angle d'envol, angle de départ, angle lancement, angle de décollage vertical; \
        ángulo de lanzamiento, ángulo de salida, ángulo de despegue; angolo di lancio, angolo di partenza; \
        utgångsvinkel, startvinkel; lanceerhoek, lanceringshoek, starthoek, vertrekhoek; \
        打ち出し角, 打出し角, 打出角, 打ち出し角度, 打出し角度, 打出角度, 上下打ち出し角, 打ち出し角上下; 발사각, 런치 앵글, 발사 각도, 탄도각; \
        发射角, 起飞角, 起飞角度, 發射角, 起飛角, 发射角度, 出球角度; \
        ângulo de lançamento, ângulo de saída; udgangsvinkel, utgangsvinkel",
    ),
    (
        Q::SpinRate,
        "spin rate, spin, total spin, spinrate, spin total, total spin rate, ball spin, ball spin rate; \
        drehzahl, spin rate, gesamtspin, spinrate gesamt, spin gesamt; taux de spin, vitesse de rotation, taux de rotation, spin total, rotation, rotation de balle; \
        tasa de spin, tasa de giro, velocidad de giro, giro, spin total, spin de bola; velocità di rotazione, tasso di spin, rotazione, spin totale, giri, giri palla; \
        spinn, spinnhastighet, spinntal, spinnmängd, total spinn; spinsnelheid, spin totaal, toerental, spintoerental; \
        スピン量, スピン, 回転数, 総回転数, スピンレート, トータルスピン, 総スピン量, スピン数, 総回転; 스핀량, 스핀, 회전수, 스핀 레이트, 총 스핀, 스핀수; \
        旋转, 自旋, 转速, 旋转率, 总旋转, 總旋轉, 旋轉, 旋转速度, 旋转量, 转数, 总转速, 自旋率; \
        taxa de spin, rotação; spinnrate",
    ),
    (
        Q::SpinAxis,
        "spin axis, axis, spin axis tilt, axis tilt, spin tilt, tilt axis, spin axis angle; spinachse, drehachse, spin achse, neigung der spinachse, spinachsenneigung, achsneigung; axe de spin, axe de rotation, axe du spin, axe spin, inclinaison de l'axe, inclinaison de l'axe de spin; \
        eje de spin, eje de giro, eje del spin; asse di spin, asse di rotazione, asse spin; spinnaxel, spinaxel; spinas, spin as, rotatieas; \
        スピン軸, スピンアクシス, 回転軸; 스핀축, 회전축, 스핀 액시스, 스핀축 각도; 旋转轴, 自旋轴, 旋轉軸, 旋转轴倾角, 自旋轴倾角, 旋转轴角度; \
        eixo de spin, eixo de rotação; spinakse, spinnakse",
    ),
    (
        Q::Side,
        "side, carry side, side carry, offline, off line, lateral, lateral distance, carry deviation, carry offline, offline carry, offline distance, side distance, side deviation, carry lateral, side dist, offline dist, lateral dist, left right, l/r; \
        seite, seitliche abweichung, seitenabweichung, seitliche ablage, seitenablage, abweichung, abweichung seitlich, seitabweichung, links rechts; latéral, écart, écart latéral, déviation, déviation latérale, côté; \
        desviación, desviación lateral, lado; laterale, deviazione, deviazione laterale; \
        sida, sidled, sidavvikelse, avvikelse i sidled; zijwaarts, zijwaartse afwijking, zijafwijking, afwijking, zijdelings, zijdelingse afwijking; \
        左右ブレ, 左右, サイド, 左右のブレ, 左右ぶれ, 左右のずれ, 左右ずれ, 左右ズレ, 横ブレ; 좌우, 좌우 편차, 사이드, 좌우 이탈, 좌우 오차, 좌우 거리; 侧偏, 横向偏差, 左右偏差, 侧向距离, 側偏, 侧偏距离, 偏移距离, 偏移, 左右偏移, 横移; \
        desvio lateral, desvio; sideafvigelse; sideavvik",
    ),
    (
        Q::Carry,
        "carry, carry distance, carry dist, carry length; carryweite, carry weite, fluglänge, flugweite, carrylänge, carry länge, carrydistanz, flugstrecke, flugdistanz; \
        portée, distance portée, distance de portée, distance carry, distance de vol, distance de carry, longueur carry; vuelo, distancia de vuelo, distancia carry, distancia de carry; \
        volo, distanza di volo, distanza carry, distanza di carry; bärlängd, carrylängd, flyglängd; carryafstand, draagafstand, vluchtafstand, carry afstand, vluchtlengte; \
        キャリー, キャリー距離, キャリー飛距離, 飛距離キャリー; 캐리, 캐리 거리, 캐리거리, 비거리캐리, 캐리 비거리; 飞行距离, 落点距离, carry距离, 飛行距離, 落點距離, 空中距离, 空中距離, 飞行码数; \
        distância de voo, distância carry; carrylængde, flyvelængde; carrylengde",
    ),
    (
        Q::Total,
        "total, total distance, total dist, total length, distance total, tot dist; gesamt, gesamtweite, gesamtlänge, gesamtdistanz, gesamtstrecke; \
        distance totale, totale, longueur totale; distancia total; totale, distanza totale; totallängd, total längd, totalt, totaldistans; \
        totaal, totale afstand, totaalafstand; トータル, 総飛距離, トータル距離, トータル飛距離, 総距離, 飛距離トータル; 총거리, 토탈, 토탈 거리, 전체 거리, 비거리토탈, 비거리총, 총 비거리; 总距离, 總距離, 总码数, 总距; \
        distância total; totallængde, total længde; totallengde, total lengde",
    ),
    (
        Q::Apex,
        "apex, apex height, max height, maximum height, peak height, height, max ht, height max, apex ht, peak ht, max hgt; \
        höhe, gipfelhöhe, scheitelhöhe, max höhe, maximale höhe, flughöhe, scheitelpunkt, apexhöhe, gipfel; hauteur, hauteur max, hauteur maximale, hauteur maxi, apogée; \
        altura, altura máxima, ápice, altura max, altura pico; altezza, altezza massima, altezza max, apice; höjd, topphöjd, maxhöjd, högsta höjd; \
        hoogte, maximale hoogte, piekhoogte, max hoogte, hoogste punt; 最高点, 最高到達点, 高さ, 最大高さ, 頂点, 最大高; 최고점, 최고 높이, 정점, 높이, 최대 높이, 탄도 높이; \
        最大高度, 顶点, 高度, 弹道高度, 最高高度, 最高點, 頂點; \
        altura máxima, altura max; højde, maks højde; høyde, maks høyde",
    ),
    (
        Q::LandingAngle,
        "landing angle, land angle, descent angle, angle of descent, descent, land ang, desc ang, desc angle; landewinkel, auftreffwinkel, einfallswinkel, aufprallwinkel, fallwinkel, einschlagwinkel, aufschlagwinkel, landungswinkel; \
        angle d'atterrissage, angle de descente, angle de chute; ángulo de aterrizaje, ángulo de caída, ángulo de descenso; \
        angolo di atterraggio, angolo di discesa, angolo di caduta; landningsvinkel, nedslagsvinkel; landingshoek, daalhoek; \
        落下角, 落下角度, 着地角, 着地角度, 降下角; 랜딩 앵글, 착지각, 낙하각, 착지 각도, 낙하 각도; 落地角, 降落角, 下落角度, 落地角度, 下落角; \
        ângulo de descida, ângulo de queda, ângulo de aterragem; landingsvinkel",
    ),
    (
        Q::HangTime,
        "hang time, hangtime, flight time, air time, airtime, time of flight, carry time; flugzeit, flugdauer; temps de vol, durée de vol; tiempo de vuelo; tempo di volo; \
        flygtid, lufttid, hängtid; vluchttijd, vliegtijd, vluchtduur; 滞空時間, 飛行時間; 체공 시간, 비행 시간; 滞空时间, 飞行时间, 滯空時間; \
        tempo de voo; flyvetid; svevetid",
    ),
    (
        Q::VerticalForceLead,
        "lead force, lead vertical force, vertical force lead, lead foot force",
    ),
    (
        Q::VerticalForceTrail,
        "trail force, trail vertical force, vertical force trail, trail foot force",
    ),
    (
        Q::VerticalForce,
        "vertical force, peak force, ground force, force both, vertical force both",
    ),
    (Q::Torque, "torque by mass, torque per mass, torque"),
    (Q::ImpactToe, "impact toe"),
    (Q::ImpactHigh, "impact high"),
    (Q::VerticalPeak, "vertical peak"),
    (Q::LeadPeak, "lead peak"),
    (Q::TrailPeak, "trail peak"),
];

/// Words that one of two values goes by.
const EITHER: [([Q; 2], &str); 3] = [
    ([Q::LaunchAngle, Q::LandingAngle], "la"),
    (
        [Q::Carry, Q::Total],
        "distance, dist, length, yardage, shot distance; weite, distanz, länge, entfernung; longueur; distancia, longitud; distanza, lunghezza; \
        avstånd, längd, distans; afstand, lengte, længde, lengde; distância; 距離, 飛距離; 거리, 비거리; 距离",
    ),
    (
        [Q::ClubSpeed, Q::BallSpeed],
        "speed, spd, velocity; geschwindigkeit, geschw; vitesse; velocidad; velocità; hastighet, hast; snelheid; velocidade; hastighed; スピード; 스피드, 속도; 速度",
    ),
];

const BACKSPIN: &str = "backspin, back spin; backspin rate, rückwärtsdrall, rückspin; rétro spin, rétrospin, effet rétro; retroceso, backspin; \
    bakspinn, backspinn; バックスピン, バックスピン量; 백스핀, 백스핀량; 后旋, 倒旋, 後旋";

const ROLES: [(C, &str); 13] = [
    (
        C::Date,
        "date, day, datetime, date time, date and time, timestamp, time stamp, ts, hit at, shot date, session date, recorded, when; \
        datum, datum uhrzeit, datum und uhrzeit; date et heure, jour; fecha, fecha y hora, día; data, data e ora, giorno; dato, dag; datum en tijd; \
        日付, 日時, 年月日, 日付時刻; 날짜, 일자, 일시; 日期, 日期时间",
    ),
    (
        C::Time,
        "time, time of day, clock, shot time; uhrzeit, zeit; heure; hora; ora, orario; tid, klockslag; tijd, tijdstip; 時刻, 時間; 시간, 시각; 时间, 时刻; \
        klokkeslæt; klokkeslett",
    ),
    (
        C::Club,
        "club, clubs, club type, club name, club used; schläger, schlägertyp; palo, tipo de palo; bastone, tipo bastone, mazza; klubba, klubbtyp; stok, clubtype; \
        type de club, クラブ, 番手, クラブ種類; 클럽, 채, 클럽 종류; 球杆, 杆, 球桿, 球杆类型; \
        taco; kølle",
    ),
    (
        C::Player,
        "player, golfer, player name, golfer name, name, student, pupil, athlete, client; spieler, spielername, schüler; joueur, nom, nom du joueur, élève; \
        jugador, nombre, nombre del jugador, alumno; giocatore, nome, nome giocatore, allievo; spelare, namn, elev; speler, naam, leerling; \
        選手, プレーヤー, プレイヤー, 氏名, 名前, プレーヤー名; 선수, 이름, 플레이어, 성명; 球员, 姓名, 选手, 球員; \
        jogador, aluno; spiller",
    ),
    (
        C::Number,
        "shot, shot no, shot number, shot nr, shot id, no, nr, number, #, shot #, num, n, index, id, row; schlag, schlagnummer, nummer, schlag nr, lfd nr; \
        coup, numéro, n°, coup n°; golpe, número, nº; colpo, numero; slag, slag nr, slagnummer; ショット, 番号, ショット番号; 번호, 샷, 샷 번호; 序号, 编号, 次数, 號碼; \
        tacada",
    ),
    (
        C::Block,
        "block, label, tag, tags, drill, test, set, group; gruppe, übung, serie; exercice, série; ejercicio; esercizio; övning; oefening; ブロック, 練習; 블록, 연습; 分组, 练习",
    ),
    (C::Standing, "standing"),
    (
        C::LeftOut,
        "excluded, exclude, is excluded, left out, ignored, ignore, omitted, omit, discarded, discard, deleted, removed, hidden, invalid, outlier, mishit, mis hit, mishits, miss hit; \
        ausgeschlossen, ungültig, ausreißer, gelöscht; exclu, ignoré, invalide, supprimé; excluido, descartado, inválido; escluso, ignorato, scartato; \
        utesluten, borttagen, ogiltig; uitgesloten, verwijderd, ongeldig; 除外, 無効; 제외, 무효; 排除, 无效",
    ),
    (
        C::Counts,
        "included, include, is included, valid, is valid, counted, counts, kept, in use; gültig, gewertet; inclus, valide; incluido, válido; incluso, valido; \
        giltig, inkluderad; geldig, meegeteld; 有効; 유효; 有效",
    ),
    (C::Implement, "implement, stick"),
    (C::SwingSide, "swing side"),
    (C::Position, "position, stance"),
    (C::Effort, "effort, effort asked"),
];

/// Words for a row that sums others up, wherever they stand.
const SUMMARIES: &str = "average, avg, mean, median, std, std dev, stdev, st dev, standard deviation, deviation, sd, σ, cv, coefficient of variation, consistency, total shots, summary; \
    durchschnitt, mittelwert, mittel, schnitt, ø, standardabweichung, stabw, std abw, streuung, varianz; moyenne, moy, écart type, médiane, variance; promedio, media, desviación estándar, mediana, prom, desv, desv est, desviación típica; \
    deviazione standard, dev std; medelvärde, medel, snitt, standardavvikelse, genomsnitt, std avv, stdavv; gemiddelde, standaardafwijking, standaarddeviatie, gem, mediaan; \
    平均, 平均値, 標準偏差, 中央値; 평균, 표준편차, 중앙값, 평균값; 平均值, 标准差, 平均數, 標準差, 中位数";
/// The same where they are not a block's label, which they may be as well.
const EXTREMES: &str = "max, maximum, min, minimum, best, worst, range, sum, count, total, summe, anzahl, somme, suma, totale; 最大, 最小, 合計; 최대, 최소, 합계; 最大值, 最小值";

/// What there is with its terms, English first; what comes first is believed where two languages
/// say different things by one word.
fn lists() -> impl Iterator<Item = (Means, &'static str)> {
    let values = VALUES.iter().map(|(q, terms)| (Means::Value(*q), *terms));
    let roles = ROLES
        .iter()
        .map(|(role, terms)| (Means::Role(*role), *terms));
    let either = EITHER
        .iter()
        .map(|(two, terms)| (Means::Either(*two), *terms));
    values
        .chain(roles)
        .chain([(Means::Backspin, BACKSPIN)])
        .chain(either)
}

fn terms() -> impl Iterator<Item = (&'static str, Means)> {
    lists().flat_map(|(means, terms)| each(terms).map(move |term| (term, means)))
}

/// Names of a column that counts the shots of which a row tells what they came to.
const COUNTS: &str = "shots, count, shot count, number of shots, no of shots, num shots, total shots, # shots, shots hit, balls; \
    schläge, anzahl, anzahl schläge; coups, nombre de coups; golpes, número de golpes; colpi, numero di colpi; \
    antal, antal slag; aantal, aantal slagen; 打数, 球数; 샷수, 샷 수; 杆数";

static KNOWN: LazyLock<HashMap<String, Means>> = LazyLock::new(|| {
    let mut known = HashMap::new();
    for (term, means) in terms() {
        known.entry(compact(term)).or_insert(means);
        let sorted = sorted(term);
        // "#" has none, and "l/r" but an r.
        if sorted.chars().count() > 2 {
            known.entry(sorted).or_insert(means);
        }
    }
    known
});

/// The words of every term of several that tell something.
static WORDS: LazyLock<Vec<(Vec<String>, Means)>> = LazyLock::new(|| {
    let words = |(term, means): (&str, Means)| {
        let plain = super::names::plain_text(term);
        let words = words_of(&plain, &BETWEEN).map(str::to_owned);
        (words.collect::<Vec<_>>(), means)
    };
    let all = terms().map(words);
    all.filter(|(words, _)| words.len() > 1).collect()
});

/// Names that are English, or the same there.
static ENGLISH: LazyLock<HashSet<String>> = LazyLock::new(|| {
    let english = lists().filter_map(|(_, terms)| terms.split(';').next());
    english
        .flat_map(each)
        .flat_map(|term| [compact(term), in_english(term)])
        .collect()
});

static SUMMED: LazyLock<Vec<String>> = LazyLock::new(|| each(SUMMARIES).map(compact).collect());
static EXTREME: LazyLock<Vec<String>> = LazyLock::new(|| each(EXTREMES).map(compact).collect());

fn each(terms: &str) -> impl Iterator<Item = &str> {
    terms
        .split([',', ';'])
        .map(str::trim)
        .filter(|term| !term.is_empty())
}

/// A name as it is compared: letters, figures and a few signs, without spaces.
pub fn compact(name: &str) -> String {
    let plain = super::names::plain_text(name);
    plain
        .chars()
        .filter(|c| c.is_alphanumeric() || matches!(c, '#' | 'ø'))
        .collect()
}

/// Words that tell nothing by themselves: of, and of the, and the.
const BETWEEN: [&str; 24] = [
    "of", "the", "de", "du", "des", "d", "la", "le", "l", "del", "della", "dello", "dell", "di",
    "da", "do", "el", "il", "van", "het", "der", "dos", "av", "i",
];

/// The words of a name in the order of the alphabet: "speed of club" is the club's speed.
fn sorted(name: &str) -> String {
    sorted_without(&BETWEEN, name)
}

fn sorted_without(between: &[&str], name: &str) -> String {
    let plain = super::names::plain_text(name);
    let mut words: Vec<&str> = words_of(&plain, between).collect();
    words.sort_unstable();
    words.join(" ")
}

/// The words of a plain text that tell something.
fn words_of<'a>(plain: &'a str, between: &'a [&str]) -> impl Iterator<Item = &'a str> {
    let words = plain.split(|c: char| !c.is_alphanumeric());
    words.filter(move |word| !word.is_empty() && !between.contains(word))
}

/// What a name says some of whose words are cut short, with a point behind each of them: "Áng.
/// ataque", "Spin tot.". Nothing where they may be words of two meanings.
fn shortened(name: &str) -> Option<Means> {
    if !name.contains('.') {
        return None;
    }
    let plain = super::names::plain_text(name);
    let mut words: Vec<(&str, bool)> = Vec::new();
    for part in plain.split_inclusive(|c: char| !c.is_alphanumeric()) {
        let word = part.trim_end_matches(|c: char| !c.is_alphanumeric());
        if !word.is_empty() && !BETWEEN.contains(&word) {
            words.push((word, part.ends_with('.')));
        }
    }
    if words.len() < 2 {
        return None;
    }
    let says = |(whole, _): &&(Vec<String>, Means)| {
        let same = |((word, cut), whole): (&(&str, bool), &String)| {
            whole == word || (*cut && word.chars().count() > 1 && whole.starts_with(word))
        };
        whole.len() == words.len() && words.iter().zip(whole).all(same)
    };
    let mut all = WORDS.iter().filter(says).map(|(_, means)| *means);
    let first = all.next()?;
    all.all(|means| means == first).then_some(first)
}

/// What a whole name means.
pub fn meant(name: &str) -> Option<Means> {
    written_out(name).or_else(|| shortened(name))
}

fn written_out(name: &str) -> Option<Means> {
    let known = KNOWN.get(&compact(name));
    known.or_else(|| KNOWN.get(&sorted(name))).copied()
}

/// Whether a whole name means something in another language than English alone.
pub fn is_foreign(name: &str) -> bool {
    let english = ENGLISH.contains(&compact(name)) || ENGLISH.contains(&in_english(name));
    written_out(name).is_some() && !english
}

/// The words of a name in order, but for those that tell nothing in English.
fn in_english(name: &str) -> String {
    sorted_without(&BETWEEN[..2], name)
}

/// Whether a cell names a row that sums others up: "Average", "Std. Dev.", "Mean of 10"; where
/// it is no label, "Max" and "Total" too.
pub fn sums_up(cell: &str, is_label: bool) -> bool {
    let whole = compact(cell);
    if whole.is_empty() || whole.chars().all(|c| c.is_ascii_digit()) {
        return false;
    }
    let first = cell
        .split(|c: char| !c.is_alphabetic())
        .find(|word| !word.is_empty());
    let first = compact(first.unwrap_or(""));
    SUMMED.contains(&whole) || (!is_label && (SUMMED.contains(&first) || EXTREME.contains(&whole)))
}

/// Whether a column tells of several shots in each row: how many there were, their average, or
/// how far they spread ("Carry SD").
pub fn of_several(name: &str) -> bool {
    let bare = name.split(['(', '[']).next().unwrap_or(name);
    let mut words = bare
        .split(|c: char| !c.is_alphabetic())
        .filter(|word| !word.is_empty());
    let first = words.next().map(compact);
    // A deviation behind another word may be to the side.
    let last = words.next_back().map(compact);
    let last = last.filter(|last| !OF_ONE.contains(&last.as_str()));
    let sums = |word: Option<String>| word.is_some_and(|word| SUMMED.contains(&word));
    is_one_of(COUNTS, name) || sums(first) || sums(last)
}

/// Words for a spread of several shots that may as well tell of one.
const OF_ONE: [&str; 3] = ["deviation", "consistency", "streuung"];

fn is_one_of(terms: &str, name: &str) -> bool {
    each(terms).any(|term| compact(term) == compact(name))
}

/// Whether a column is named for a number of shots by a letter that numbers them too.
pub fn may_count(name: &str) -> bool {
    is_one_of("n, no, nr, num, #", name)
}

/// Whether a column is named for what parts the shots of a lesson, or for lessons.
pub fn parts(name: &str) -> Option<Parts> {
    let occasions = is_one_of(OCCASIONS, name).then_some(Parts::Occasions);
    occasions.or_else(|| is_one_of(CONDITIONS, name).then_some(Parts::Shots))
}

/// What a column parts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Parts {
    /// One lesson from another, as a day does.
    Occasions,
    /// Shots that were hit in another way or with something else.
    Shots,
}

const OCCASIONS: &str = "session, session no, session id, session name, lesson, lesson no, week, visit, round, training, appointment; \
    sitzung, stunde, lektion, woche, termin; séance, leçon, semaine; sesión, clase, semana; sessione, lezione, settimana; \
    pass, lektion, vecka; sessie, les; セッション, レッスン, 週; 세션, 레슨; 课程, 周";
const CONDITIONS: &str = "ball, ball type, ball used, ball name, condition, phase, part, trial, swing, grip, shaft, head, setup, tee height, before after; \
    balltyp, ballart, bedingung, abschnitt, griff, schaft; balle, type de balle, condition; bola, tipo de bola, pelota, condición, fase; \
    palla, tipo di palla, condizione; boll, bolltyp, fas; bal, baltype, fase; ボール, ボールの種類; 볼 종류, 공 종류; 球类型";

/// The name of the value whose units a column tells: "Carry" of "Carry Unit", nothing of "Unit".
/// `None` where it is not named for units.
pub fn names_units(name: &str) -> Option<String> {
    let words: Vec<&str> = name
        .split([' ', '_', '-', '.', '(', ')', '[', ']'])
        .filter(|word| !word.is_empty())
        .collect();
    let unit = |word: &&&str| is_one_of(UNIT, word);
    words.iter().any(|word| unit(&word)).then(|| {
        let others = words.iter().filter(|word| !unit(word));
        others.copied().collect::<Vec<_>>().join(" ")
    })
}

const UNIT: &str = "unit, units, uom; einheit; unité, unités; unidad, unidades; unità; enhet; eenheid; unidade; enhed; 単位; 단위; 单位, 單位";

/// The unit in which a value stands that has but one.
pub fn only_unit(quantity: Q) -> Option<Unit> {
    match quantity.dimension().accepted() {
        [unit] => Some(*unit),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn words_cut_short_are_known_by_their_points_where_they_mean_one_thing() {
        for (name, wanted) in [
            ("Áng. ataque", Some(Q::AngleOfAttack)),
            ("Vel. palo", Some(Q::ClubSpeed)),
            ("Haut. max", Some(Q::Apex)),
            ("Spin tot.", Some(Q::SpinRate)),
            ("Dir. lanzamiento", Some(Q::LaunchDirection)),
            ("Velocità testa", Some(Q::ClubSpeed)),
            ("Angle de la face", Some(Q::FaceAngle)),
            // Cut too short, or without a point.
            ("A. a.", None),
            ("Haut max", None),
            ("Face to P.", None),
            ("R", None),
            ("l", None),
        ] {
            assert_eq!(meant(name), wanted.map(Means::Value), "{name}");
        }
        assert!(is_foreign("Schlägergeschwindigkeit") && is_foreign("Angle de face"));
        assert!(!is_foreign("Speed of club") && !is_foreign("Spin Ax.") && !is_foreign("nothing"));
    }
}
