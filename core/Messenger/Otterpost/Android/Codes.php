<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger\Otterpost\Android;

use Geschenk\Core\Chat\Content\CallOutcome;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\MemberRole;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\ViewOnce;

/** What the numbers in Otterpost's Android tables mean. */
final class Codes
{
    public const SLIP_SORTS = [
        10 => Kind::Text, 20 => Kind::Photo, 21 => Kind::Video, 22 => Kind::Animation, 30 => Kind::Audio,
        31 => Kind::Voice, 32 => Kind::RoundNote, 40 => Kind::Document, 41 => Kind::Sticker,
        50 => Kind::Place, 51 => Kind::LivePlace, 60 => Kind::ContactCard, 65 => Kind::Poll, 70 => Kind::Call,
        75 => Kind::CatalogueItem, 80 => Kind::Deleted, 90 => Kind::Notice,
    ];
    public const ROOM_SORTS = [
        1 => ConversationKind::Direct, 2 => ConversationKind::Group, 3 => ConversationKind::Broadcast,
        4 => ConversationKind::NotesToSelf,
    ];
    public const RANKS = [0 => MemberRole::Member, 1 => MemberRole::Admin, 2 => MemberRole::Owner];
    public const STAGES = [
        0 => DeliveryState::Waiting, 20 => DeliveryState::Sent, 40 => DeliveryState::Delivered,
        60 => DeliveryState::Read, 99 => DeliveryState::Failed,
        5 => DeliveryState::Received, 6 => DeliveryState::Seen,
    ];
    public const NOTICE_SORTS = [
        1 => NoticeKind::Founded, 2 => NoticeKind::Joined, 3 => NoticeKind::Left, 4 => NoticeKind::Removed,
        5 => NoticeKind::MadeAdmin,
        6 => NoticeKind::TitleChanged, 7 => NoticeKind::NumberChanged, 8 => NoticeKind::JoinedByLink,
        9 => NoticeKind::UnmadeAdmin, 10 => NoticeKind::AboutChanged, 11 => NoticeKind::PictureChanged,
        12 => NoticeKind::TimerChanged, 13 => NoticeKind::KeysChanged, 14 => NoticeKind::Barred,
        15 => NoticeKind::Unbarred, 16 => NoticeKind::Closed, 17 => NoticeKind::ListStayed,
    ];
    public const ONCE = [0 => ViewOnce::Unopened, 1 => ViewOnce::Opened];
    public const RING_OUTCOMES = [
        1 => CallOutcome::Answered, 2 => CallOutcome::Missed, 3 => CallOutcome::Declined, 4 => CallOutcome::Failed,
    ];
    /** Stands for a kind, state or notice of another platform; what it was is in foreign_json. */
    public const FOREIGN = 999;

    /**
     * The code for a value.
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
}
