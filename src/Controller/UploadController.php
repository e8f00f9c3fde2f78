<?php

declare(strict_types=1);

namespace Geschenk\App\Controller;

use Geschenk\App\Entity\Upload;
use Geschenk\App\Entity\User;
use Geschenk\App\Files\Upload\Uploads;
use Geschenk\App\Http\Body\NewUpload;
use Geschenk\App\Http\Gate;
use Geschenk\App\Http\JsonAnswer;
use Geschenk\App\Refusal;
use Geschenk\Core\Import\Importers;
use Geschenk\Core\Messenger\BackupLock;
use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Attribute\MapRequestPayload;
use Symfony\Component\Routing\Attribute\Route;
use Symfony\Component\Security\Http\Attribute\CurrentUser;

/** Files that a browser sends, piece by piece, to be imported. */
#[Route('/api/uploads')]
final readonly class UploadController
{
    /** Bytes that have come, as whoever sends the next piece knows. */
    private const OFFSET = 'Upload-Offset';

    public function __construct(private Uploads $uploads, private Importers $importers)
    {
    }

    #[Route('', methods: ['POST'])]
    public function begin(#[MapRequestPayload('json')] NewUpload $told, #[CurrentUser] User $user): JsonResponse
    {
        $name = mb_scrub(trim(basename(str_replace('\\', '/', $told->name))));
        $upload = $this->uploads->begin('' === $name ? '?' : $name, $told->bytes, $user->getUserIdentifier());

        return new JsonAnswer($this->state($upload), 201);
    }

    #[Route('/{upload}', methods: ['GET'])]
    public function show(string $upload, #[CurrentUser] User $user): JsonResponse
    {
        return new JsonAnswer($this->state($this->uploads->of($upload, $user->getUserIdentifier())));
    }

    /** Puts a piece behind what has come. Where another many had come, nothing is put there, and that is told. */
    #[Route('/{upload}', methods: ['PATCH'])]
    public function add(string $upload, Request $request, #[CurrentUser] User $user): JsonResponse
    {
        $of = $this->uploads->of($upload, $user->getUserIdentifier());
        // By the type it is told from all other changes, which are short.
        Gate::isPiece($request) ?: throw Refusal::because('no_piece');
        $offset = (string) $request->headers->get(self::OFFSET);
        if (1 !== preg_match('/^\d{1,15}$/D', $offset)) {
            throw Refusal::because('upload_without_offset');
        }
        $piece = $request->getContent();
        $come = '' === $piece ? null : $this->uploads->add($of, (int) $offset, $piece);

        return new JsonAnswer($this->state($of), null === $come ? 409 : 200);
    }

    #[Route('/{upload}', methods: ['DELETE'])]
    public function discard(string $upload, #[CurrentUser] User $user): JsonResponse
    {
        $of = $this->uploads->of($upload, $user->getUserIdentifier());
        $this->uploads->isFree($of->id) ?: throw Refusal::because('upload_gone');
        $this->uploads->discard($of->id);

        return new JsonAnswer(null, 204);
    }

    /** @return array<string, mixed> */
    private function state(Upload $upload): array
    {
        $file = (string) $this->uploads->file($upload->id);
        $isWhole = $this->uploads->isWhole($upload);
        $found = $isWhole ? $this->importers->at(dirname($file), basename($file)) : null;

        return [
            'id' => $upload->id, 'name' => $upload->name, 'bytes' => $upload->bytes,
            'there' => $this->uploads->there($upload->id), 'piece' => Gate::PIECE, 'is_whole' => $isWhole,
            'sort' => $found?->sort, 'is_locked' => null !== $found && BackupLock::Open !== $found->lock,
        ];
    }
}
