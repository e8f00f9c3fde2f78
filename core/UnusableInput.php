<?php

declare(strict_types=1);

namespace Geschenk\Core;

/** What was given can't be read as chats. */
class UnusableInput extends Failure
{
    /** Reasons of what goes on once its owner has told what opens it. */
    public const WANTS_KEY = [
        'sealed_wrong_key', 'sealed_needs_key', 'sealed_wants_password', 'sealed_wants_digits', 'zip_needs_password',
        'zip_wrong_password',
    ];

    public static function notThere(string $path): self
    {
        return new self('not_there', ['path' => $path]);
    }

    /** Chats of two accounts don't go together. */
    public static function anotherAccount(string $account, string $other): self
    {
        return new self('another_account', ['own_number' => $account, 'other_number' => $other]);
    }

    public static function anotherEdition(string $edition, string $other): self
    {
        return new self('another_edition', ['edition' => $edition, 'other' => $other]);
    }

    /** Of a phone that is merged with: what its own number is, is damaged. */
    public static function accountUnreadable(): self
    {
        return new self('account_unreadable');
    }

    public static function notMessengerData(string $path): self
    {
        return new self('not_messenger_data', ['path' => $path]);
    }

    public static function unknownGeneration(string $path, string $messenger, int $generation, string $known): self
    {
        return new self('unknown_generation', [
            'path' => $path, 'messenger' => $messenger, 'generation' => $generation, 'known' => $known,
        ]);
    }

    public static function notSqlite(string $path): self
    {
        return new self('not_sqlite', ['path' => $path]);
    }

    public static function otherEncoding(string $path): self
    {
        return new self('other_encoding', ['path' => $path]);
    }

    public static function cutShort(string $path, int $found, int $promised): self
    {
        return new self('cut_short', ['path' => $path, 'found' => $found, 'promised' => $promised]);
    }

    /** @param string $detail what is damaged of it, for the log */
    public static function damaged(string $path, string $detail, ?\Throwable $previous = null): self
    {
        $detail = preg_replace('/\s+/', ' ', rtrim($detail, '. ')) ?? '';

        return new self('damaged', ['path' => $path, 'detail' => $detail], $previous);
    }

    public static function unexpected(string $path, \Throwable $error): self
    {
        return new self('unexpected_value', ['path' => $path], $error);
    }

    public static function sealedWrongKey(string $path): self
    {
        return new self('sealed_wrong_key', ['path' => $path]);
    }

    public static function sealedOtherSort(string $path, bool $wantsPassword): self
    {
        return new self($wantsPassword ? 'sealed_wants_password' : 'sealed_wants_digits', ['path' => $path]);
    }

    public static function sealedNeedsKey(string $path): self
    {
        return new self('sealed_needs_key', ['path' => $path]);
    }

    public static function sealedOnPhone(): self
    {
        return new self('sealed_on_phone');
    }

    public static function sealedCut(string $path, int $found, int $promised): self
    {
        return new self('sealed_cut', ['path' => $path, 'found' => $found, 'promised' => $promised]);
    }

    public static function sealedChanged(string $path): self
    {
        return new self('sealed_changed', ['path' => $path]);
    }

    public static function emptyKeyFile(string $path): self
    {
        return new self('empty_key_file', ['path' => $path]);
    }

    public static function localBackupBroken(string $path): self
    {
        return new self('local_backup_broken', ['path' => $path]);
    }

    public static function noSuchWayIn(string $way): self
    {
        return new self('no_such_way_in', ['way' => $way]);
    }

    public static function localBackupGone(): self
    {
        return new self('local_backup_gone');
    }

    public static function sealedUnknownSort(string $path): self
    {
        return new self('sealed_unknown_sort', ['path' => $path]);
    }

    public static function sealedTooLarge(string $path, int $most): self
    {
        return new self('sealed_too_large', ['path' => $path, 'megabytes' => (int) ($most / 1e6)]);
    }

    public static function unreadable(string $path): self
    {
        return new self('unreadable', ['path' => $path]);
    }

    /** @param string $fault code of what is wrong with it, under "fault" in translations/ */
    public static function backupBroken(
        string $path,
        string $fault,
        string $where = '',
        int $found = 0,
        int $promised = 0,
    ): self {
        return new self('backup_broken', [
            'path' => $path, 'fault' => $fault, 'where' => $where, 'found' => $found, 'promised' => $promised,
        ]);
    }

    /** A backup that is sealed, and not by the shop that is asked to open it. */
    public static function sealedElsewhere(string $path): self
    {
        return new self('sealed_elsewhere', ['path' => $path]);
    }

    public static function noWriter(string $messenger, Platform $platform): self
    {
        return new self('no_writer', ['messenger' => $messenger, 'platform' => $platform->properName()]);
    }

    public static function alreadyThere(string $path): self
    {
        return new self('already_there', ['path' => $path]);
    }

    public static function notAMoment(string $told): self
    {
        return new self('not_a_moment', ['told' => $told]);
    }

    public static function notAChoice(): self
    {
        return new self('not_a_choice');
    }

    /** @param int $most that a messenger may have */
    public static function tooManyChatFiles(string $path, int $most): self
    {
        return new self('too_many_chat_files', ['path' => $path, 'most' => $most]);
    }

    /** Chats of a messenger that nobody here knows. */
    public static function unknownMessenger(string $messenger): self
    {
        return new self('unknown_messenger', ['messenger' => $messenger]);
    }

    /**
     * Of a computer's backup of a whole phone.
     *
     * @param string $fault "missing" or "changed"
     * @param string $where file of it, or of the messenger
     */
    public static function phoneBackupBroken(string $path, string $fault, string $where): self
    {
        return new self('phone_backup_broken', ['path' => $path, 'fault' => $fault, 'where' => $where]);
    }

    public static function phoneIndexOfAnother(string $path): self
    {
        return new self('phone_index_of_another', ['path' => $path]);
    }

    public static function phoneBackupUnfinished(string $path): self
    {
        return new self('phone_backup_unfinished', ['path' => $path]);
    }

    public static function noMessengerOnPhone(string $path): self
    {
        return new self('no_messenger_on_phone', ['path' => $path]);
    }

    public static function noPlatform(): self
    {
        return new self('no_platform');
    }

    public static function storeAlone(string $path): self
    {
        return new self('store_alone', ['path' => $path]);
    }

    public static function unwritable(string $path): self
    {
        return new self('unwritable', ['path' => $path]);
    }

    /** The same of what is called something else than its path; null for its path. */
    public function named(string $path, ?string $name): self
    {
        return null !== $name && ($this->fields['path'] ?? null) === $path
            ? new self($this->reason, ['path' => $name] + $this->fields, $this->getPrevious())
            : $this;
    }

    /**
     * As it was told by another process.
     *
     * @param array<string, string|int> $fields
     */
    public static function told(string $reason, array $fields): self
    {
        return new self($reason, $fields);
    }
}
