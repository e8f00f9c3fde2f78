<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Ios;

use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\ViewOnce;

/** What the numbers in Otterpost's iOS tables and property lists mean. */
final class Codes
{
    public const SLIP_SORTS = [
        1 => Kind::Text, 4 => Kind::Photo, 5 => Kind::Video, 6 => Kind::Voice, 7 => Kind::RoundNote, 8 => Kind::Audio,
        9 => Kind::Document, 10 => Kind::Sticker, 11 => Kind::Animation, 12 => Kind::Notice,
        13 => Kind::Place, 14 => Kind::LivePlace, 15 => Kind::ContactCard, 16 => Kind::Poll, 17 => Kind::Call,
        18 => Kind::CatalogueItem, 19 => Kind::Deleted,
    ];
    public const ROOM_SORTS = [
        1 => ConversationKind::Direct, 2 => ConversationKind::Group, 5 => ConversationKind::NotesToSelf,
    ];
    public const RANKS = [1 => MemberRole::Member, 2 => MemberRole::Admin, 3 => MemberRole::Owner];
    public const STAGES = [
        1 => DeliveryState::Waiting, 2 => DeliveryState::Sent, 3 => DeliveryState::Delivered, 4 => DeliveryState::Read,
        5 => DeliveryState::Failed,
        8 => DeliveryState::Received, 9 => DeliveryState::Seen,
    ];
    public const NOTICE_SORTS = [
        'founded' => NoticeKind::Founded, 'came' => NoticeKind::Joined, 'went' => NoticeKind::Left,
        'sent away' => NoticeKind::Removed, 'raised' => NoticeKind::MadeAdmin,
        'lowered' => NoticeKind::UnmadeAdmin, 'came by link' => NoticeKind::JoinedByLink,
        'retitled' => NoticeKind::TitleChanged, 'redescribed' => NoticeKind::AboutChanged,
        'repictured' => NoticeKind::PictureChanged, 'renumbered' => NoticeKind::NumberChanged,
        'retimed' => NoticeKind::TimerChanged, 'rekeyed' => NoticeKind::KeysChanged, 'shut out' => NoticeKind::Barred,
        'let in' => NoticeKind::Unbarred, 'closed' => NoticeKind::Closed, 'list stayed' => NoticeKind::ListStayed,
    ];
    public const ONCE = [1 => ViewOnce::Unopened, 2 => ViewOnce::Opened];
    public const CALL_OUTCOMES = [
        'answered' => CallOutcome::Answered, 'missed' => CallOutcome::Missed, 'turned down' => CallOutcome::Declined,
        'failed' => CallOutcome::Failed,
    ];
    /** Stands for a kind or state that iOS has no code for; what it was is in ZFOREIGN. */
    public const FOREIGN = 63;
    public const FOREIGN_NOTICE = 'foreign';

    /**
     * The code for a value, FOREIGN when there is none.
     *
     * @template T of \UnitEnum
     *
     * @param array<int, T> $table
     * @param T             $value
     */
    public static function code(array $table, \UnitEnum $value): int
    {
        $code = array_search($value, $table, true);

        return false === $code ? self::FOREIGN : $code;
    }

    public static function noticeCode(NoticeKind $kind): string
    {
        $code = array_search($kind, self::NOTICE_SORTS, true);

        return false === $code ? self::FOREIGN_NOTICE : $code;
    }

    public static function callOutcome(CallOutcome $outcome): string
    {
        $code = array_search($outcome, self::CALL_OUTCOMES, true);

        return false === $code ? self::FOREIGN_NOTICE : $code;
    }
}
